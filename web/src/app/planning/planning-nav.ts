/** The ways through planning, on top of each of its pages, and how the plan stands. */
import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { RouterLink, RouterLinkActive } from '@angular/router';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type PlanState } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { useKeys } from '../ui/keys';
import { whenHeard } from '../client/heard';
import { sessionFeature } from '../client/session.state';
import { LongDayPipe, MomentPipe } from '../ui/format';
import { Refused } from '../ui/refusal';
import { Tip } from '../ui/tip';

const WAYS = [
  { path: '/planning', name: 'Suggestions', count: 'suggestions' },
  { path: '/planning/exceptions', name: 'Exceptions', count: 'exceptions' },
  { path: '/planning/promises', name: 'Promises in danger', count: 'endangered' },
  { path: '/planning/problems', name: 'Data problems', count: 'problems' },
  { path: '/planning/since', name: 'Since last time', count: null },
  { path: '/planning/rules', name: 'Rules', count: null },
  { path: '/planning/what-if', name: 'What if', count: null },
  { path: '/planning/forecast', name: 'Forecast', count: null },
] as const;

@Component({
  selector: 't-planning-nav',
  imports: [Tip, NzButtonModule, RouterLink, RouterLinkActive, LongDayPipe, MomentPipe, Refused],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <nav aria-label="In planning">
      @for (way of ways; track way.path) {
        <a
          [routerLink]="way.path"
          routerLinkActive="here"
          [routerLinkActiveOptions]="{ exact: way.path === '/planning' }"
          ariaCurrentWhenActive="page"
          >{{ way.name }}
          @if (way.count !== null && plan(); as state) {
            <b class="figure">{{ state[way.count] }}</b>
          }
        </a>
      }
      <span class="quiet stand" aria-live="polite">
        @if (plan(); as state) {
          @if (state.seq > 0) {
            {{ state.behind ? 'following a change …' : 'as of ' + (state.at | moment) }}, to {{ state.horizon | longDay }}
          } @else {
            planning anew …
          }
        }
      </span>
      @if (rights().has('planning.run')) {
        <button
          nz-button
          type="button"
          class="act small"
          [disabled]="busy()"
          tTip="The plan follows every change by itself; this computes all of it again"
          (click)="run()"
        >
          Plan everything <kbd>R</kbd>
        </button>
      }
    </nav>
    <t-refusal [problem]="problem()" />
  `,
  styles: `
    nav {
      display: flex;
      flex-wrap: wrap;
      align-items: center;
      gap: 2px 16px;
      padding: 5px 12px 0;
      border-bottom: 1px solid var(--line);
      background: var(--surface);
      font-size: 13px;
    }
    a {
      padding: 2px 0 5px;
      color: var(--quiet);
      border-bottom: 3px solid transparent;
    }
    a.here {
      color: var(--ink);
      border-color: var(--supply);
    }
    .figure {
      font-weight: 600;
    }
    .stand {
      margin-left: auto;
    }
    button {
      margin-bottom: 4px;
    }
  `,
})
export class PlanningNav {
  private readonly client = inject(ApiClient);
  private readonly ngrx = inject(Store);
  protected readonly ways = WAYS;
  protected readonly rights = this.ngrx.selectSignal(sessionFeature.selectRights);
  protected readonly plan = signal<PlanState | null>(null);
  protected readonly busy = signal(false);
  protected readonly problem = signal<Problem | null>(null);

  constructor() {
    this.load();
    useKeys([{ key: 'R', words: 'Plan everything', act: () => this.rights().has('planning.run') && this.run() }]);
    whenHeard(
      () => ['plan'],
      () => this.load(),
    );
  }

  private load(): void {
    this.client.call(api.planning.getPlan).subscribe({
      next: (plan) => {
        this.plan.set(plan);
        this.problem.set(null);
      },
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }

  protected run(): void {
    if (this.busy()) return;
    this.busy.set(true);
    this.problem.set(null);
    this.client.call(api.planning.runPlan).subscribe({
      next: (plan) => {
        this.plan.set(plan);
        this.busy.set(false);
      },
      error: (error: unknown) => {
        this.busy.set(false);
        this.problem.set(problemOf(error));
      },
    });
  }
}
