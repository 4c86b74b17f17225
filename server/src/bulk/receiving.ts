/** The route that takes a file to be read and tried. */
import type { Router } from 'express';
import { z } from 'zod';
import { importKinds } from '@terrace/contract';
import type { Audit } from '../platform/audit';
import { AtOnce } from '../platform/at-once';
import { sentFile, takesFile } from '../platform/upload';
import { actorOf, permitted } from '../platform/who';
import type { Imports } from './imports';

const MOST_BYTES = 60 * 1024 * 1024;

export function bindReceiving(router: Router, imports: Imports, audit: Audit): void {
  const kindOf = z.object({ kind: z.enum(importKinds) });
  const atOnce = new AtOnce();
  router.post(
    '/bulk/files/:kind',
    ...takesFile({ permit: permitted('bulk.import'), mostBytes: MOST_BYTES, folder: imports.folder }),
    async (request, response) => {
      const actor = actorOf(request);
      const { name, path } = sentFile(request);
      const view = await atOnce.for(actor.id, async () => {
        try {
          return await imports.receive(actor, kindOf.parse(request.params).kind, name, path);
        } finally {
          imports.drop(path);
        }
      });
      audit.noteOf(request, 'fileSent', { detail: name });
      response.json(view);
    },
  );
}
