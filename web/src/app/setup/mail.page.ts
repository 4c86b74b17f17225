/** Outgoing mail: by a mail server, tried before anything depends on it, or kept in the outbox alone. */
import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type MailView } from '@terrace/contract';
import { ApiClient } from '../client/api-client';
import { Control, disabled, entryOf, overRecord } from '../ui/forms';
import { Labelled } from '../ui/labelled';
import { Note } from '../ui/note';
import { OneOfField } from '../ui/one-of';
import { Refused } from '../ui/refusal';
import { TextField } from '../ui/text-field';
import { deskOf } from './desk';

interface Draft {
  readonly by: MailView['by'];
  readonly host: string;
  readonly port: string;
  readonly security: MailView['security'];
  readonly user: string;
  readonly password: string;
  readonly from: string;
  readonly name: string;
}
const NONE: Draft = { by: 'outbox', host: '', port: '', security: 'starttls', user: '', password: '', from: '', name: '' };
const draftOf = ({ by, host, port, security, user, from, name }: MailView): Draft => ({
  by,
  host,
  port: String(port),
  security,
  user,
  password: '',
  from,
  name,
});
/** A password that is not typed stays as it is. */
const bodyOf = ({ port, password, ...draft }: Draft) => ({ ...draft, port: Number(port), ...(password === '' ? {} : { password }) });
const WAYS = [
  { value: 'outbox', words: 'Kept in the outbox' },
  { value: 'smtp', words: 'Sent by a mail server' },
] as const;
const SECURITY = [
  { value: 'starttls', words: 'TLS once it is offered' },
  { value: 'tls', words: 'TLS from the start' },
  { value: 'none', words: 'None' },
] as const;

@Component({
  imports: [Control, Labelled, Note, NzButtonModule, OneOfField, Refused, RouterLink, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <h1>Outgoing mail</h1>
      <t-refusal [problem]="desk.problem()" />
      @if (desk.view(); as kept) {
        @if (kept.failed > 0) {
          <t-note kind="trouble">
            <span
              >{{ kept.failed }} {{ kept.failed === 1 ? 'mail was' : 'mails were' }} not taken:
              <a routerLink="/set-up/outbox">see the outbox</a>.</span
            >
          </t-note>
        } @else if (kept.waiting > 0) {
          <t-note kind="calm"
            ><span>{{ kept.waiting }} {{ kept.waiting === 1 ? 'mail waits' : 'mails wait' }} to be sent.</span></t-note
          >
        }
      }
      <section class="pane">
        <form (submit)="$event.preventDefault(); save()">
          <t-one-of label="How mail leaves" [options]="ways" [value]="draft().by" (chosen)="turn({ by: $event })" />
          @if (draft().by === 'smtp') {
            <div class="fields">
              <t-field name="Mail server"><t-text kind="code" placeholder="mail.example.org" [formField]="entry.fields.host" /></t-field>
              <t-field name="Port"><t-text kind="figure" [formField]="entry.fields.port" /></t-field>
            </div>
            <t-one-of label="Secured by" [options]="security" [value]="draft().security" (chosen)="turn({ security: $event })" />
            <div class="fields">
              <t-field name="Signs in as" hint="Empty where it asks nobody"><t-text kind="code" [formField]="entry.fields.user" /></t-field>
              <t-field name="Password" [hint]="desk.view()?.hasPassword ? 'One is kept; type to change it' : ''">
                <t-text type="password" autocomplete="new-password" [formField]="entry.fields.password" />
              </t-field>
              <t-field name="From the address"><t-text kind="code" [formField]="entry.fields.from" /></t-field>
              <t-field name="With the name"><t-text [formField]="entry.fields.name" /></t-field>
            </div>
          } @else {
            <p class="quiet">Orders and papers are made and kept to look at; nothing leaves.</p>
          }
          <t-refusal [problem]="entry.problem()" />
          @if (desk.may()) {
            <div class="acts"><button nz-button class="act first" [disabled]="entry.busy()">Save</button></div>
          }
        </form>
      </section>
      @if (desk.may() && desk.view()?.by === 'smtp') {
        <section class="pane">
          <h2>Try it</h2>
          <form (submit)="$event.preventDefault(); try()">
            <div class="acts">
              <t-field name="A mail to"><t-text kind="code" [formField]="trial.fields.to" /></t-field>
              <button nz-button class="act" [disabled]="trial.busy()">{{ trial.busy() ? 'Being sent …' : 'Send it' }}</button>
            </div>
            <t-refusal [problem]="trial.problem()" />
            @if (said() !== '') {
              <p class="good" role="status">The mail server took it: {{ said() }}</p>
            }
          </form>
        </section>
      }
    </div>
  `,
  styleUrl: './setup.less',
  styles: 'form { max-width: 640px; } .acts t-field { width: 260px; }',
})
export class MailPage {
  private readonly client = inject(ApiClient);
  protected readonly desk = deskOf(api.setup.mailSettings, { topics: ['setup', 'mail'] });
  protected readonly ways = WAYS;
  protected readonly security = SECURITY;
  protected readonly draft = signal<Draft>(NONE);
  protected readonly said = signal('');
  protected readonly entry = entryOf({
    draft: this.draft,
    route: () => (this.desk.view() ? api.setup.saveMailSettings : null),
    body: bodyOf,
    shape: (path) => disabled(path, () => !this.desk.may()),
    // A password is no thing to keep in the browser.
    keeps: false,
  });
  private readonly whom = signal({ to: '' });
  protected readonly trial = entryOf({ part: () => 'trial', draft: this.whom, route: () => api.setup.tryMail, keeps: false });

  constructor() {
    overRecord(
      this.entry,
      () => {
        const view = this.desk.view();
        return view && { ...view, id: 1 };
      },
      draftOf,
    );
  }

  protected turn(part: Partial<Draft>): void {
    if (this.desk.may()) this.draft.update((draft) => ({ ...draft, ...part }));
  }

  protected save(): void {
    this.entry.send(
      this.client.call(api.setup.saveMailSettings, { body: { ...bodyOf(this.draft()), version: this.desk.view()?.version ?? 0 } }),
      (view) => {
        this.desk.view.set(view);
        // The password stands in no form any more.
        this.entry.begin(draftOf(view));
        this.said.set('');
      },
    );
  }

  protected try(): void {
    this.said.set('');
    this.trial.send(this.client.call(api.setup.tryMail, { body: this.whom() }), ({ said }) => this.said.set(said), 'part');
  }
}
