/** What is set up, what is missing and what that blocks, in the order of the work. */
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import { api, type GuideStep, type Keeping, type LiveTopic } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { whenHeard } from '../client/heard';
import { Refused } from '../ui/refusal';
import { goodWords } from './backup-words';

const STATES: Readonly<Record<GuideStep['state'], string>> = { empty: 'nothing yet', lacking: 'something is missing', done: 'all there' };
/** What changes what is there. */
const TOPICS: readonly LiveTopic[] = ['setup', 'item', 'customer', 'supplier', 'stock', 'customerOrder', 'purchaseOrder', 'productionOrder', 'plan'];

@Component({
  imports: [RouterLink, Refused],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <h1>What is set up</h1>
      <p class="quiet">{{ summary() }}</p>
      <t-refusal [problem]="problem()" />
      @if (backup(); as words) {
        <p [class.bad]="keeping()?.old"><a routerLink="/set-up/backups">Backups</a>: {{ words }}</p>
      }
      <ol>
        @for (step of steps(); track step.key) {
          <li [class]="step.state">
            <svg viewBox="0 0 22 22" width="22" height="22" aria-hidden="true"><path [attr.d]="glyph(step)" /></svg>
            <div class="what">
              <h2>{{ step.title }}</h2>
              <p class="quiet">
                <span class="sr">{{ words(step) }}: </span>{{ step.there }}
              </p>
              @for (lack of step.lacks; track lack.text) {
                <p>
                  <a [routerLink]="lack.link">{{ lack.text }}</a><span class="quiet blocks">{{ lack.blocks }}</span>
                </p>
              }
            </div>
            <div class="acts">
              <a class="act small" [class.first]="step === next()" [routerLink]="step.link">{{
                step.state === 'empty' ? 'By hand' : 'Look at it'
              }}</a>
              @if (step.file; as file) {
                <a class="act small" routerLink="/catalogue/files" [queryParams]="{ kind: file }">By file</a>
              }
            </div>
          </li>
        }
      </ol>
    </div>
  `,
  styles: `
    ol {
      list-style: none;
      margin: 0;
      padding: 0;
      border-top: 1px solid var(--line);
    }
    li {
      display: grid;
      grid-template-columns: 22px minmax(0, 1fr) auto;
      gap: 4px 14px;
      padding: 10px 4px;
      border-bottom: 1px solid var(--line);
      align-items: start;
    }
    h2 {
      font-size: 15px;
      margin: 0;
    }
    p {
      margin: 2px 0 0;
    }
    svg {
      margin-top: 1px;
      fill: none;
      stroke: var(--line-strong);
      stroke-width: 2;
    }
    .done svg {
      stroke: var(--good);
    }
    .lacking svg {
      stroke: var(--forecast);
    }
    p a {
      text-decoration: underline;
    }
    .blocks {
      margin-left: 8px;
    }
    .acts {
      margin: 0;
    }
  `,
})
export class GuidePage {
  private readonly client = inject(ApiClient);
  protected readonly steps = signal<readonly GuideStep[]>([]);
  protected readonly problem = signal<Problem | null>(null);
  protected readonly keeping = signal<Keeping | null>(null);
  protected readonly backup = computed(() => {
    const keeping = this.keeping();
    return keeping && goodWords(keeping);
  });
  /** The first that has nothing: what to do now. */
  protected readonly next = computed(() => this.steps().find(({ state }) => state === 'empty'));
  protected readonly summary = computed(() => {
    const steps = this.steps();
    if (steps.length === 0) return '';
    const done = steps.filter(({ state }) => state === 'done').length;
    return done === steps.length
      ? 'Everything is there, and nothing is missing.'
      : `${done} of ${steps.length} are all there. It follows from your data: nothing is ticked off by hand.`;
  });

  constructor() {
    this.client.call(api.setup.keeping).subscribe({
      next: (keeping) => this.keeping.set(keeping),
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
    this.load();
    whenHeard(
      () => TOPICS,
      () => this.load(),
    );
  }

  private load(): void {
    this.client.call(api.setup.guide).subscribe({
      next: ({ steps }) => this.steps.set(steps),
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }

  protected words({ state }: GuideStep): string {
    return STATES[state];
  }

  /** A step in the hillside: level ground where all is there, a step that ends where something is missing. */
  protected glyph({ state }: GuideStep): string {
    if (state === 'done') return 'M2 18h6v-6h6V6h6';
    return state === 'lacking' ? 'M2 18h6v-6h3M15 8v0M18 6v0' : 'M2 18h18';
  }
}
