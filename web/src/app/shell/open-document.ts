/** Opens a document by its number, as people read it elsewhere: a stroke and the line's place behind it do no harm. */
import { Injectable, inject } from '@angular/core';
import { Router } from '@angular/router';
import { api } from '@terrace/contract';
import { pageOf } from '../ui/documents';
import { ApiClient, Problem } from '../client/api-client';

@Injectable({ providedIn: 'root' })
export class DocumentOpener {
  private readonly client = inject(ApiClient);
  private readonly router = inject(Router);

  open(id: string): void {
    const number = id.split('/')[0] ?? id;
    this.client.beside(api.platform.find, { query: { text: number } }, null).subscribe((hits) => {
      if (hits === null) return;
      const hit = hits.find((each) => each.title === number) ?? hits[0];
      const page = hit && pageOf(hit.kind, hit.id);
      if (page) void this.router.navigateByUrl(page);
      else this.client.tell(new Problem('notFound', `${number} can’t be opened: it is not there, or you may not see it.`, {}, {}));
    });
  }
}
