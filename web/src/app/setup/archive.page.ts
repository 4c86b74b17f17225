/** The whole company as a file of open ones: written here, taken along, and founded from again elsewhere. */
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import type { Observable } from 'rxjs';
import { api, type ArchivesView } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { sessionFeature } from '../client/session.state';
import { Note } from '../ui/note';
import { Refused } from '../ui/refusal';
import { Sheet } from '../ui/sheet';
import { TakeFile } from '../ui/take-file';
import { sizeWords } from './backup-words';

@Component({
  imports: [Note, NzButtonModule, Refused, Sheet, TakeFile],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <h1>Company as a file</h1>
      <p class="quiet">
        Everything in one packed file (ZIP) of open ones: a CSV for every table, the settings as JSON, attachments as they are, and a manifest with a
        checksum for each. Passwords, tokens and sessions stay here. It is what you take along; a backup is what you fall back on.
      </p>
      <t-refusal [problem]="problem()" />
      @if (may()) {
        <div class="acts">
          <button nz-button type="button" class="act first" [disabled]="writing()" (click)="write()">
            {{ writing() ? 'Being written …' : 'Write one now' }}
          </button>
        </div>
        <t-sheet>
          <thead>
            <tr>
              <th>File</th>
              <th class="figure">Size</th>
              <th><span class="sr">Take it</span></th>
            </tr>
          </thead>
          <tbody>
            @for (each of view()?.archives; track each.name) {
              <tr>
                <td class="code">{{ each.name }}</td>
                <td class="figure">{{ size(each.bytes) }}</td>
                <td><a class="act small" [tTakeFile]="'/api/setup/archives/' + each.name" (refused)="problem.set($event)">Take it</a></td>
              </tr>
            } @empty {
              <tr>
                <td colspan="3" class="quiet">None yet.</td>
              </tr>
            }
          </tbody>
        </t-sheet>
        <t-note kind="calm">
          <span
            >To found a company from one: start Terrace with an empty data folder, and choose <b>From an archive of Terrace instead</b>. It has to be
            the same release. The last {{ view()?.kept }} are kept here.</span
          >
        </t-note>
      } @else {
        <p>Who may change the set-up can write one: everything that the company has is in it.</p>
      }
    </div>
  `,
  styleUrl: './setup.less',
})
export class ArchivePage {
  private readonly client = inject(ApiClient);
  private readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly may = computed(() => this.rights().has('setup.edit'));
  protected readonly view = signal<ArchivesView | null>(null);
  protected readonly problem = signal<Problem | null>(null);
  protected readonly writing = signal(false);
  protected readonly size = sizeWords;

  constructor() {
    if (this.may()) this.take(this.client.call(api.setup.archives));
  }

  protected write(): void {
    if (this.writing()) return;
    this.writing.set(true);
    this.take(this.client.call(api.setup.writeArchive));
  }

  private take(asked: Observable<ArchivesView>): void {
    this.problem.set(null);
    asked.subscribe({
      next: (view) => {
        this.view.set(view);
        this.writing.set(false);
      },
      error: (error: unknown) => {
        this.problem.set(problemOf(error));
        this.writing.set(false);
      },
    });
  }
}
