/** One's own: the password, and where one is signed in. */
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type AnswerOf } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { whenHeard } from '../client/heard';
import { sessionFeature } from '../client/session.state';
import { MomentPipe } from '../ui/format';
import { Control, entryOf } from '../ui/forms';
import { Labelled } from '../ui/labelled';
import { Refused } from '../ui/refusal';
import { Sheet } from '../ui/sheet';
import { TextField } from '../ui/text-field';
import { Tokens } from './tokens';

const NONE = { old: '', password: '' };

@Component({
  imports: [Control, Labelled, MomentPipe, NzButtonModule, Refused, Sheet, TextField, Tokens],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <h1>{{ session()?.user?.name }}</h1>
      <p class="quiet">Signs in as {{ session()?.user?.login }}, {{ session()?.user?.role }}</p>
      <section class="pane">
        <h2>Password</h2>
        <form (submit)="$event.preventDefault(); change()">
          <t-field name="Your password of now"><t-text type="password" autocomplete="current-password" [formField]="entry.fields.old" /></t-field>
          <t-field name="The new one" hint="Ten characters at least; a few words make a good one">
            <t-text type="password" autocomplete="new-password" [formField]="entry.fields.password" />
          </t-field>
          <t-refusal [problem]="entry.problem()" />
          @if (changed()) {
            <p class="good" role="status">Your password is changed. Wherever else you were signed in, you are no more.</p>
          }
          <div class="acts"><button nz-button class="act first" [disabled]="entry.busy()">Change it</button></div>
        </form>
      </section>
      <section class="pane">
        <h2>Where you are signed in</h2>
        <t-refusal [problem]="problem()" />
        <t-sheet>
          <thead>
            <tr>
              <th>Since</th>
              <th>From</th>
              <th>With</th>
              <th><span class="sr">End it</span></th>
            </tr>
          </thead>
          <tbody>
            @for (each of sessions(); track each.key) {
              <tr>
                <td>{{ each.since | moment }}</td>
                <td class="code">{{ each.from }}</td>
                <td class="browser">{{ each.browser }}</td>
                <td>
                  @if (each.current) {
                    <span class="quiet">this one</span>
                  } @else {
                    <button nz-button type="button" class="act small" (click)="end(each.key)">Sign out there</button>
                  }
                </td>
              </tr>
            }
          </tbody>
        </t-sheet>
        @if (others() > 1) {
          <div class="acts"><button nz-button type="button" class="act" (click)="end('others')">Sign out everywhere else</button></div>
        }
      </section>
      <section class="pane">
        <h2>Tokens for programs</h2>
        <p class="quiet">A program that shows one asks under your name, and may no more than you. The API is described at /api/openapi.json.</p>
        <t-tokens />
      </section>
    </div>
  `,
  styles: `
    form {
      display: grid;
      gap: 12px;
      max-width: 360px;
    }
    .browser {
      max-width: 420px;
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
    }
  `,
})
export class MePage {
  private readonly client = inject(ApiClient);
  protected readonly session = inject(Store).selectSignal(sessionFeature.selectSession);
  protected readonly sessions = signal<AnswerOf<typeof api.setup.ownSessions>>([]);
  protected readonly problem = signal<Problem | null>(null);
  protected readonly changed = signal(false);
  protected readonly others = computed(() => this.sessions().filter(({ current }) => !current).length);
  private readonly draft = signal(NONE);
  protected readonly entry = entryOf({ draft: this.draft, route: () => api.setup.changePassword, keeps: false });

  constructor() {
    this.load();
    whenHeard(
      () => ['setup'],
      () => this.load(),
    );
  }

  private load(): void {
    this.client.call(api.setup.ownSessions).subscribe({
      next: (sessions) => this.sessions.set(sessions),
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }

  protected change(): void {
    this.changed.set(false);
    this.entry.send(this.client.call(api.setup.changePassword, { body: this.draft() }), () => {
      this.entry.begin(NONE);
      this.entry.fields().reset();
      this.changed.set(true);
      this.load();
    });
  }

  protected end(key: string): void {
    this.client.call(api.setup.endOwnSession, { params: { key } }).subscribe({
      next: () => this.load(),
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }
}
