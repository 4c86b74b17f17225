/** Founding a company from an archive: the file, who looks after the company in it, and the code of the console. */
import { ChangeDetectionStrategy, Component, inject, output, signal } from '@angular/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { ApiClient } from '../client/api-client';
import { FileField } from '../ui/file-field';
import { Control, entryOf } from '../ui/forms';
import { Labelled } from '../ui/labelled';
import { Refused } from '../ui/refusal';
import { TextField } from '../ui/text-field';

@Component({
  selector: 't-found-from',
  imports: [Control, FileField, Labelled, NzButtonModule, Refused, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <form (submit)="$event.preventDefault(); found()">
      <t-file words="Choose the archive (ZIP)" accept=".zip" (chosen)="file.set($event)" />
      <p class="quiet">{{ file()?.name ?? 'As Set-up, Company as a file, writes it: everything is checked before anything is kept.' }}</p>
      <t-field name="What its administrator signs in with"><t-text autocomplete="username" [formField]="entry.fields.login" /></t-field>
      <t-field name="A new password for them" hint="Archives hold no passwords: the others choose theirs by a link">
        <t-text type="password" autocomplete="new-password" [formField]="entry.fields.password" />
      </t-field>
      <t-field name="Code on the server’s console" hint="Only who runs the server can read it">
        <t-text kind="code" placeholder="XXXX-XXXX" [formField]="entry.fields.code" />
      </t-field>
      <t-refusal [problem]="entry.problem()" />
      <button nz-button class="act first" [disabled]="entry.busy() || !file()">
        {{ entry.busy() ? 'Being read and checked …' : 'Found it from the archive' }}
      </button>
    </form>
  `,
  styles: `
    form {
      display: grid;
      gap: 12px;
      padding: 24px 32px 28px;
      width: min(480px, calc(100vw - 50px));
    }
    .act.first {
      justify-content: center;
      height: 36px;
    }
  `,
})
export class FoundFrom {
  /** With what somebody can sign in now. */
  readonly founded = output<{ readonly login: string; readonly password: string }>();
  private readonly client = inject(ApiClient);
  protected readonly file = signal<File | null>(null);
  private readonly draft = signal({ login: '', password: '', code: '' });
  protected readonly entry = entryOf({ draft: this.draft, keeps: false });

  protected found(): void {
    const file = this.file();
    if (!file) return;
    const { login, password, code } = this.draft();
    const sent = this.client.send<{ login: string }>('/founding/archive', file, { login, password }, { 'x-founding-code': code });
    this.entry.send(sent, () => this.founded.emit({ login, password }));
  }
}
