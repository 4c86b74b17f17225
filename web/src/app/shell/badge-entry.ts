/** Signing in at a terminal: the badge is scanned, the PIN typed. */
import { ChangeDetectionStrategy, Component, afterNextRender, inject, input, output, signal, viewChild } from '@angular/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type Session } from '@terrace/contract';
import { ApiClient } from '../client/api-client';
import { Control, entryOf } from '../ui/forms';
import { Labelled } from '../ui/labelled';
import { Refused } from '../ui/refusal';
import { TextField } from '../ui/text-field';

const NONE = { badge: '', pin: '' };

@Component({
  selector: 't-badge-entry',
  imports: [Control, Labelled, NzButtonModule, Refused, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <form (submit)="$event.preventDefault(); enter()">
      <h2>{{ terminal() }}</h2>
      <t-field name="Badge"><t-text #badge kind="code" placeholder="scan it" [formField]="entry.fields.badge" /></t-field>
      <t-field name="PIN"><t-text #pin type="password" autocomplete="off" [formField]="entry.fields.pin" /></t-field>
      <t-refusal [problem]="entry.problem()" />
      <button nz-button class="act first" [disabled]="entry.busy()">Sign in</button>
    </form>
  `,
  styleUrl: './sign-in.page.less',
})
export class BadgeEntry {
  readonly terminal = input.required<string>();
  readonly entered = output<Session>();
  private readonly client = inject(ApiClient);
  private readonly badge = viewChild.required<TextField>('badge');
  private readonly pin = viewChild.required<TextField>('pin');
  private readonly draft = signal(NONE);
  protected readonly entry = entryOf({ draft: this.draft, keeps: false });

  constructor() {
    afterNextRender(() => this.badge().focus());
  }

  /** A scanner ends with Enter: what is missing then is the PIN. */
  protected enter(): void {
    const body = this.draft();
    if (body.pin === '') {
      (body.badge === '' ? this.badge() : this.pin()).focus();
      return;
    }
    this.entry.send(this.client.call(api.platform.signInByBadge, { body }), (session) => this.entered.emit(session));
  }
}
