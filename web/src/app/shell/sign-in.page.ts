/** Signing in. */
import { afterNextRender, viewChild, ChangeDetectionStrategy, Component, inject, input, signal } from '@angular/core';
import { Router } from '@angular/router';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type AnswerOf, type Session } from '@terrace/contract';
import { Refused } from '../ui/refusal';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { sessionActions } from '../client/session.state';
import { BadgeEntry } from './badge-entry';
import { Door } from './door';
import { Pairing } from './terminal';
import { TextField } from '../ui/text-field';

@Component({
  imports: [BadgeEntry, Door, NzButtonModule, Pairing, TextField, Refused],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './sign-in.page.html',
  styleUrl: './sign-in.page.less',
})
export class SignInPage {
  /** Where they wanted to go; the router gives `undefined` where nowhere in particular. */
  readonly then = input('/today', { transform: (address: string | undefined) => address ?? '/today' });
  private readonly client = inject(ApiClient);
  private readonly router = inject(Router);
  private readonly store = inject(Store);
  protected readonly welcome = signal<AnswerOf<typeof api.platform.welcome> | null>(null);
  protected readonly login = signal('');
  protected readonly password = signal('');
  protected readonly busy = signal(false);
  protected readonly problem = signal<Problem | null>(null);

  /** What this device is called, where people sign in at it by badge; and whether it is being made such a one. */
  protected readonly terminal = signal<string | null>(null);
  protected readonly pairing = signal(false);
  private readonly name = viewChild<TextField>('name');

  constructor() {
    afterNextRender(() => this.name()?.focus());
    this.client
      .call(api.platform.welcome)
      .subscribe({ next: (welcome) => this.greet(welcome), error: (error: unknown) => this.problem.set(problemOf(error)) });
    this.client
      .call(api.platform.terminal)
      .subscribe({ next: ({ name }) => this.terminal.set(name), error: (error: unknown) => this.problem.set(problemOf(error)) });
  }

  protected goOn(session: Session): void {
    this.store.dispatch(sessionActions.signedIn({ session }));
    void this.router.navigateByUrl(this.then());
  }

  /** Where nobody has founded a company yet there is nothing to sign in to. */
  private greet(welcome: AnswerOf<typeof api.platform.welcome>): void {
    this.welcome.set(welcome);
    if (!welcome.founded) void this.router.navigateByUrl('/found');
  }

  protected be(login: string): void {
    this.login.set(login);
    this.password.set(this.welcome()?.demoPassword ?? '');
    this.enter();
  }

  protected enter(): void {
    if (this.busy()) return;
    this.busy.set(true);
    this.problem.set(null);
    this.client.call(api.platform.signIn, { body: { login: this.login(), password: this.password() } }).subscribe({
      next: (session) => this.goOn(session),
      error: (error: unknown) => {
        this.busy.set(false);
        this.problem.set(problemOf(error));
      },
    });
  }
}
