/** Makes a device a terminal, by the code that Set-up shows. */
import { ChangeDetectionStrategy, Component, inject, output, signal } from '@angular/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api } from '@terrace/contract';
import { ApiClient } from '../client/api-client';
import { Control, entryOf } from '../ui/forms';
import { Labelled } from '../ui/labelled';
import { Refused } from '../ui/refusal';
import { TextField } from '../ui/text-field';

@Component({
  selector: 't-pairing',
  imports: [Control, Labelled, NzButtonModule, Refused, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <form (submit)="$event.preventDefault(); pair()">
      <t-field name="Code of the terminal" hint="Set-up, Terminals shows it">
        <t-text kind="code" placeholder="XXXX-XXXX" [formField]="entry.fields.code" />
      </t-field>
      <t-refusal [problem]="entry.problem()" />
      <button nz-button class="act first" [disabled]="entry.busy()">Make this a terminal</button>
    </form>
  `,
  styleUrl: './sign-in.page.less',
})
export class Pairing {
  /** What the terminal is called. */
  readonly paired = output<string>();
  private readonly client = inject(ApiClient);
  private readonly draft = signal({ code: '' });
  protected readonly entry = entryOf({ draft: this.draft, keeps: false });

  protected pair(): void {
    this.entry.send(this.client.call(api.platform.pairTerminal, { body: this.draft() }), ({ name }) => this.paired.emit(name));
  }
}
