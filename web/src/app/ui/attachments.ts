/** Files attached to a record. */
import { ChangeDetectionStrategy, Component, effect, inject, input, signal, untracked } from '@angular/core';
import { api, type AnswerOf, type DocumentKind } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { lastAsked } from '../client/last-asked';
import { FileField } from './file-field';
import { Refused } from './refusal';

@Component({
  selector: 't-attachments',
  imports: [FileField, Refused],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <ul>
      @for (file of files(); track file.id) {
        <li>
          <a [href]="'/api/files/' + file.id" download>{{ file.name }}</a>
          <span class="quiet">{{ (file.size / 1024).toFixed(0) }} kB, {{ file.who }}</span>
        </li>
      }
    </ul>
    <t-file words="Attach a PDF or picture" accept=".pdf,.png,.jpg,.jpeg" (chosen)="attach($event)" />
    <t-refusal [problem]="problem()" />
  `,
  styles:
    ':host { display: grid; gap: 6px; justify-items: start; } ul { margin: 0; padding: 0; list-style: none; font-size: 13px; } label { position: relative; }',
})
export class Attachments {
  readonly kind = input.required<DocumentKind>();
  readonly id = input.required<number>();
  private readonly client = inject(ApiClient);
  private readonly ask = lastAsked();
  protected readonly files = signal<AnswerOf<typeof api.platform.files>>([]);
  protected readonly problem = signal<Problem | null>(null);

  constructor() {
    effect(() => {
      this.id();
      untracked(() => this.load());
    });
  }

  protected attach(file: File): void {
    this.problem.set(null);
    this.client
      .attach(this.kind(), this.id(), file)
      .subscribe({ next: () => this.load(), error: (error: unknown) => this.problem.set(problemOf(error)) });
  }

  private load(): void {
    const params = { kind: this.kind(), id: this.id() };
    this.ask(this.client.beside(api.platform.files, { params }, []), { next: (files) => this.files.set(files) });
  }
}
