/** The session ended while somebody worked: they sign in again where they are, and go on. */
import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { sessionActions, sessionFeature } from '../client/session.state';
import { Dialog } from '../ui/dialog';
import { Labelled } from '../ui/labelled';
import { Refused } from '../ui/refusal';
import { TextField } from '../ui/text-field';

@Component({
  selector: 't-sign-in-again',
  imports: [Dialog, Labelled, NzButtonModule, Refused, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-dialog heading="Sign in again" (dropped)="leave()">
      <form (submit)="$event.preventDefault(); enter()">
        <p>Your session has ended. What you typed is still here: sign in, and what you just asked for goes on.</p>
        <t-field name="Password of {{ session()?.user?.name }}">
          <t-text type="password" label="Password" autocomplete="current-password" [value]="password()" (valueChange)="password.set($event)" />
        </t-field>
        <t-refusal [problem]="problem()" />
        <div class="acts">
          <button nz-button class="act first" [disabled]="busy()">Sign in</button>
          <button nz-button type="button" class="act" (click)="leave()">Sign in as somebody else</button>
        </div>
      </form>
    </t-dialog>
  `,
  styles: 'form { display: grid; gap: 14px; }',
})
export class SignInAgain {
  private readonly client = inject(ApiClient);
  private readonly store = inject(Store);
  protected readonly session = this.store.selectSignal(sessionFeature.selectSession);
  protected readonly password = signal('');
  protected readonly busy = signal(false);
  protected readonly problem = signal<Problem | null>(null);

  protected enter(): void {
    const login = this.session()?.user.login;
    if (this.busy() || login === undefined) return;
    this.busy.set(true);
    this.problem.set(null);
    this.client.call(api.platform.signIn, { body: { login, password: this.password() } }).subscribe({
      next: (session) => this.store.dispatch(sessionActions.signedIn({ session })),
      error: (error: unknown) => {
        this.busy.set(false);
        this.problem.set(problemOf(error));
      },
    });
  }

  protected leave(): void {
    // Leads to the page for it.
    this.store.dispatch(sessionActions.signedOut());
  }
}
