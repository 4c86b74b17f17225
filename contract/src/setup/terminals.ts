/** Terminals: devices at which people sign in by badge and PIN, one after the other. */
import { z } from 'zod';
import { route } from '../base/route';
import { idParams, shortText } from '../base/schemas';

const terminal = z.object({
  id: z.number().int(),
  name: z.string(),
  warehouseId: z.number().int().nullable(),
  /** Whether a device is one; before that, a code waits for it. */
  paired: z.boolean(),
  /** Moment in world time. */
  lastUse: z.string().nullable(),
});
const view = z.object({ terminals: z.array(terminal) });
export type TerminalsView = z.output<typeof view>;
/** The code is shown once. */
const withCode = view.extend({ code: z.string() });

export const terminalRoutes = {
  terminals: route({ method: 'get', path: '/setup/terminals', summary: 'Terminals, and which device is one', right: 'setup.see', answer: view }),
  addTerminal: route({
    method: 'post',
    path: '/setup/terminals',
    summary: 'Add a terminal; a code to pair a device with is shown once',
    right: 'setup.people',
    body: z.object({ name: shortText.min(1, 'Give a name.').max(60), warehouseId: z.number().int().positive().nullable() }),
    answer: withCode,
  }),
  codeForTerminal: route({
    method: 'post',
    path: '/setup/terminals/:id/code',
    summary: 'Make a new code for a terminal; the device that was one is none any more',
    right: 'setup.people',
    params: idParams,
    answer: withCode,
  }),
  dropTerminal: route({
    method: 'delete',
    path: '/setup/terminals/:id',
    summary: 'Take a terminal away: nobody signs in at it any more',
    right: 'setup.people',
    params: idParams,
    answer: view,
  }),
};
