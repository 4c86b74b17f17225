/** What becomes, or became, of each order of a run: as it goes on, and whenever it is opened again. */
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, numberAttribute, signal, untracked } from '@angular/core';
import { RouterLink } from '@angular/router';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type OrderRunView } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { whenHeard } from '../client/heard';
import { lastAsked } from '../client/last-asked';
import { MomentPipe } from '../ui/format';
import { OneOfField, type OneOf } from '../ui/one-of';
import { Progress } from '../ui/progress';
import { Refused } from '../ui/refusal';
import { Sheet } from '../ui/sheet';
import { runWords } from './run-words';

type Look = 'all' | 'refused' | 'done' | 'waiting';
const WORDS: Readonly<Record<Exclude<Look, 'all'>, string>> = { refused: 'Refused', done: 'Done', waiting: 'Untouched' };
const SHOWN = 500;

@Component({
  imports: [MomentPipe, NzButtonModule, OneOfField, Progress, Refused, RouterLink, Sheet],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <t-refusal [problem]="problem()" />
      @if (run(); as now) {
        <h1>{{ now.title }}: {{ now.total }} {{ now.total === 1 ? 'order' : 'orders' }}</h1>
        <p class="quiet">{{ now.who }}, {{ now.at | moment }}</p>
        <p role="status" [class.trouble]="now.state === 'cut'">{{ words(now) }}</p>
        @if (now.state === 'running') {
          <div class="acts">
            <t-progress label="How far it is" [done]="now.done + now.refused" [of]="now.total" />
            <button nz-button type="button" class="act small" (click)="stop()">Stop</button>
          </div>
        }
        <div class="acts">
          <t-one-of label="Which of them" [options]="looks()" [value]="look()" (chosen)="look.set($event)" />
          @if (now.papers && now.done > 0 && now.state !== 'running') {
            <a class="act small first" [href]="'/api/papers/run/' + now.id" target="_blank">Open the papers (PDF)</a>
          }
          <a class="act small" routerLink="/selling/many">Others that were done</a>
        </div>
        <t-sheet>
          <thead>
            <tr>
              <th>Order</th>
              <th>Customer</th>
              <th>What became of it</th>
            </tr>
          </thead>
          <tbody>
            @for (row of rows(); track row.id) {
              <tr>
                <td>
                  <a class="code" [routerLink]="['/selling/orders', row.id]">{{ row.number || '—' }}</a>
                </td>
                <td>{{ row.customer }}</td>
                <td [class.trouble]="row.state === 'refused'" class="words">{{ row.state === 'waiting' ? 'untouched' : row.words }}</td>
              </tr>
            } @empty {
              <tr>
                <td colspan="3" class="quiet">None.</td>
              </tr>
            }
          </tbody>
        </t-sheet>
      }
    </div>
  `,
  styleUrl: './many.less',
})
export class RunPage {
  readonly id = input.required({ transform: numberAttribute });
  private readonly client = inject(ApiClient);
  private readonly ask = lastAsked();
  protected readonly run = signal<OrderRunView | null>(null);
  protected readonly problem = signal<Problem | null>(null);
  protected readonly words = runWords;
  protected readonly look = signal<Look>('all');
  protected readonly looks = computed((): readonly OneOf<Look>[] => {
    const rows = this.run()?.rows ?? [];
    const some = (['refused', 'done', 'waiting'] as const).flatMap((value): OneOf<Look>[] => {
      const count = rows.filter(({ state }) => state === value).length;
      return count > 0 ? [{ value, words: `${WORDS[value]} ${count}` }] : [];
    });
    return [{ value: 'all', words: `All ${rows.length}` }, ...some];
  });
  protected readonly rows = computed(() =>
    (this.run()?.rows ?? []).filter(({ state }) => this.look() === 'all' || state === this.look()).slice(0, SHOWN),
  );

  constructor() {
    effect(() => {
      const id = this.id();
      untracked(() => this.load(id));
    });
    whenHeard(
      () => ['orderRun'],
      () => this.load(this.id()),
    );
  }

  private load(id: number): void {
    this.ask(this.client.call(api.selling.getRun, { params: { id } }), {
      next: (run) => this.run.set(run),
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }

  protected stop(): void {
    this.client.call(api.selling.stopRun, { params: { id: this.id() } }).subscribe({
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }
}
