/** Whoever has a link chooses a password by it, and is in. */
import { ChangeDetectionStrategy, Component, effect, inject, input, signal, untracked } from '@angular/core';
import { Router } from '@angular/router';
import { Store } from '@ngrx/store';
import { switchMap } from 'rxjs';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type AnswerOf } from '@terrace/contract';
import { ApiClient, problemOf } from '../client/api-client';
import { sessionActions } from '../client/session.state';
import { Control, entryOf } from '../ui/forms';
import { Labelled } from '../ui/labelled';
import { Refused } from '../ui/refusal';
import { TextField } from '../ui/text-field';
import { Door } from './door';

@Component({
  imports: [Control, Door, Labelled, NzButtonModule, Refused, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-door [beneath]="owner() ? 'Welcome, ' + owner()?.name : ''">
      <form (submit)="$event.preventDefault(); join()">
        @if (owner(); as person) {
          <p>
            You sign in as <b class="code">{{ person.login }}</b>. Choose a password.
          </p>
          <t-field name="Password" hint="Ten characters at least; a few words make a good one">
            <t-text type="password" autocomplete="new-password" [formField]="entry.fields.password" />
          </t-field>
        }
        <t-refusal [problem]="entry.problem()" />
        @if (owner()) {
          <button nz-button class="act first" [disabled]="entry.busy()">Keep it and sign in</button>
        }
      </form>
    </t-door>
  `,
  styleUrl: './sign-in.page.less',
})
export class JoinPage {
  readonly link = input.required<string>();
  private readonly client = inject(ApiClient);
  private readonly router = inject(Router);
  private readonly store = inject(Store);
  protected readonly owner = signal<AnswerOf<typeof api.setup.whoseLink> | null>(null);
  private readonly draft = signal({ password: '' });
  protected readonly entry = entryOf({ draft: this.draft, route: () => api.setup.joinByLink, keeps: false });

  constructor() {
    effect(() => {
      const params = { link: this.link() };
      untracked(() =>
        this.client.call(api.setup.whoseLink, { params }).subscribe({
          next: (owner) => this.owner.set(owner),
          error: (error: unknown) => this.entry.refuse(problemOf(error)),
        }),
      );
    });
  }

  protected join(): void {
    const { password } = this.draft();
    const enter = this.client
      .call(api.setup.joinByLink, { params: { link: this.link() }, body: { password } })
      .pipe(switchMap(({ login }) => this.client.call(api.platform.signIn, { body: { login, password } })));
    this.entry.send(enter, (session) => {
      this.store.dispatch(sessionActions.signedIn({ session }));
      void this.router.navigateByUrl('/today');
    });
  }
}
