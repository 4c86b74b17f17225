/**
 * A link to a file that the server makes: it is asked for beside the page, so that a refusal is said here and not lost in
 * the browser's downloads, and nothing is asked for twice.
 */
import { Directive, inject, input, output } from '@angular/core';
import { ApiClient, problemOf, type Problem } from '../client/api-client';

@Directive({
  selector: 'a[tTakeFile]',
  host: { '[attr.href]': 'address()', '(click)': 'take($event)' },
})
export class TakeFile {
  readonly address = input.required<string>({ alias: 'tTakeFile' });
  /** Whether it is being made. */
  readonly making = output<boolean>();
  readonly refused = output<Problem | null>();
  private readonly client = inject(ApiClient);
  private busy = false;

  protected take(event: Event): void {
    event.preventDefault();
    if (this.busy) return;
    this.tell(true);
    this.refused.emit(null);
    this.client.file(this.address()).subscribe({
      next: ({ name, content }) => {
        this.tell(false);
        save(name, content);
      },
      error: (error: unknown) => {
        this.tell(false);
        this.refused.emit(problemOf(error));
      },
    });
  }

  private tell(busy: boolean): void {
    this.busy = busy;
    this.making.emit(busy);
  }
}

/** Hands a file over to the browser, which keeps it where downloads go. */
function save(name: string, content: Blob): void {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(content);
  link.download = name;
  link.click();
  URL.revokeObjectURL(link.href);
}
