/** One item's forecast: drawn, judged against the other methods, and typed over where somebody knows better. */
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal, untracked } from '@angular/core';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { METHOD_WORDS, api, forecastChoices, type ForecastView } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { lastAsked } from '../client/last-asked';
import { sessionFeature } from '../client/session.state';
import { NumberField } from '../ui/fields';
import { GroupedPipe, MomentPipe, longDay, shortDay } from '../ui/format';
import { ItemField } from '../ui/item-field';
import { Labelled } from '../ui/labelled';
import { Refused } from '../ui/refusal';
import { ForecastChart } from './forecast-chart';
import { COUNTED } from './forecast-words';
import { CheckField } from '../ui/check-field';
import { SelectField, SelectOption } from '../ui/select-field';
import { TextField } from '../ui/text-field';
import { Sheet } from '../ui/sheet';
import { Tip } from '../ui/tip';

type Asked = ForecastView['asked'];

/** What of a forecast may be asked for otherwise. */
interface Wish {
  readonly method: Asked;
  readonly period: 'month' | 'week';
  readonly referenceId: number | null;
  readonly factor: string;
  readonly leaveOutliers: boolean;
}

@Component({
  selector: 't-forecast-panel',
  imports: [
    Tip,
    Sheet,
    NzButtonModule,
    CheckField,
    SelectField,
    SelectOption,
    TextField,
    ForecastChart,
    ItemField,
    RouterLink,
    GroupedPipe,
    MomentPipe,
    NumberField,
    Labelled,
    Refused,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <t-refusal [problem]="problem()" />
      @if (view(); as each) {
        <h1>
          <a class="code" [routerLink]="['/catalogue/items', each.itemId]">{{ each.code }}</a> in {{ each.warehouse }}
        </h1>
        <p>
          {{ each.description }} · by {{ words(each.method) }}{{ each.asked === 'best' ? ', the best of all' : '' }}, {{ each.at | moment }}.
          @if (each.reference; as other) {
            Reference item: <span class="code">{{ other.code }}</span> × {{ other.factor }}.
          }
          The plan counts {{ counted(each) }}.
        </p>
        <t-forecast-chart [forecast]="each" />
        <p class="quiet">
          — history &nbsp; - - what the method would have said &nbsp; ◆ outlier, left out &nbsp; — forecast, four of five within the range &nbsp; ▲
          overridden
        </p>
        @if (rights().has('planning.run')) {
          <div class="fields">
            <t-field name="Method">
              <t-select [value]="each.asked" (valueChange)="ask({ method: asMethod($event) })">
                @for (name of methods; track name) {
                  <t-option [value]="name" label="{{ words(name) }}" />
                }
              </t-select>
            </t-field>
            <t-field name="By">
              <t-select [value]="each.period" (valueChange)="ask({ period: $event === 'week' ? 'week' : 'month' })">
                @for (name of ['month', 'week']; track name) {
                  <t-option [value]="name" label="{{ name }}" />
                }
              </t-select>
            </t-field>
            <t-field name="Reference item">
              <t-item-field
                label="Reference item"
                placeholder="its own"
                [code]="each.reference?.code ?? ''"
                (taken)="ask({ referenceId: $event.id })"
              />
            </t-field>
            @if (each.reference; as other) {
              <t-field name="Factor">
                <t-number label="Factor" [value]="other.factor" (settled)="$event === other.factor || ask({ factor: $event })" />
              </t-field>
              <button nz-button type="button" class="act" [disabled]="busy()" (click)="ask({ referenceId: null, factor: '1' })">
                From its own history
              </button>
            }
            <t-check [checked]="each.leaveOutliers" [disabled]="busy()" (checkedChange)="ask({ leaveOutliers: !each.leaveOutliers })" class="check"
              >leave outliers out</t-check
            >
            <button nz-button type="button" class="act" [disabled]="busy()" (click)="ask({})">Forecast again</button>
          </div>
        }
        <section class="pane">
          <h2>By {{ each.period }}</h2>
          <t-sheet>
            <thead>
              <tr>
                <th>From</th>
                <th class="figure">Computed</th>
                <th class="figure">Range</th>
                <th class="figure">Override</th>
              </tr>
            </thead>
            <tbody>
              @for (figure of each.figures; track figure.start) {
                <tr>
                  <td>{{ day(figure.start) }}</td>
                  <td class="figure">{{ figure.computed | grouped }}</td>
                  <td class="figure quiet">{{ figure.low | grouped }} – {{ figure.high | grouped }}</td>
                  <td class="figure">
                    @if (rights().has('planning.run')) {
                      <t-number
                        [label]="'Override for ' + day(figure.start)"
                        [value]="figure.typed ?? ''"
                        (settled)="type(figure.start, $event, figure.note, figure)"
                      />
                    } @else {
                      {{ figure.typed | grouped }}
                    }
                  </td>
                </tr>
                @if (figure.typed !== null) {
                  <tr class="because">
                    <td colspan="4">
                      @if (rights().has('planning.run')) {
                        <label
                          >Because
                          <t-text
                            maxlength="2000"
                            [label]="'Why, for ' + day(figure.start)"
                            [value]="figure.note"
                            (settled)="type(figure.start, figure.typed, $event, figure)"
                        /></label>
                      } @else if (figure.note !== '') {
                        Because {{ figure.note }}
                      }
                    </td>
                  </tr>
                }
              }
            </tbody>
          </t-sheet>
        </section>
        <section class="pane">
          <h2>Forecast error by method</h2>
          <t-sheet>
            <thead>
              <tr>
                <th>Method</th>
                <th class="figure" tTip="Mean error over that of repeating the last season; below 1 is better">Error</th>
                <th class="figure" tTip="Above 0 it forecasts too much">Bias</th>
              </tr>
            </thead>
            <tbody>
              @for (error of each.errors; track error.method) {
                <tr [class.sum]="error.method === each.method">
                  <td>{{ words(error.method) }}</td>
                  <td class="figure">{{ error.mase.toFixed(3) }}</td>
                  <td class="figure">{{ error.bias.toFixed(3) }}</td>
                </tr>
              } @empty {
                <tr>
                  <td colspan="3" class="quiet">The history is too short to try methods on.</td>
                </tr>
              }
            </tbody>
          </t-sheet>
        </section>
      }
    </div>
  `,
  styles: `
    .fields {
      display: grid;
      grid-template-columns: repeat(auto-fill, minmax(150px, 1fr));
      align-items: end;
      gap: 8px 10px;
      margin: 8px 0 14px;
    }
    .sum {
      font-weight: 700;
    }
    .check {
      display: flex;
      gap: 6px;
      align-items: center;
      font-size: 13px;
    }
    td:first-child {
      white-space: nowrap;
    }
    td t-number {
      max-width: 130px;
      margin-left: auto;
    }
    tr:has(+ .because) td {
      border-bottom: 0;
    }
    .because label {
      display: flex;
      gap: 8px;
      align-items: center;
      color: var(--quiet);
      input {
        flex: 1;
      }
    }
  `,
})
export class ForecastPanel {
  readonly itemId = input.required<number>();
  readonly warehouseId = input.required<number>();
  private readonly client = inject(ApiClient);
  private readonly look = lastAsked();
  protected readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly view = signal<ForecastView | null>(null);
  protected readonly problem = signal<Problem | null>(null);
  protected readonly busy = signal(false);
  protected readonly methods = forecastChoices;
  private readonly place = computed(() => ({ itemId: this.itemId(), warehouseId: this.warehouseId() }));

  constructor() {
    effect(() => {
      const params = this.place();
      untracked(() => {
        this.problem.set(null);
        this.look(this.client.call(api.planning.getForecast, { params }), {
          next: (view) => this.view.set(view),
          error: (error: unknown) => this.problem.set(problemOf(error)),
        });
      });
    });
  }

  protected words(method: string): string {
    return METHOD_WORDS[method] ?? method;
  }

  protected counted(view: ForecastView): string {
    return COUNTED[view.counted] ?? 'nothing: no rule says how it is planned here';
  }

  protected day(start: string): string {
    return this.view()?.period === 'week' ? longDay(start) : `${shortDay(start).split(' ')[1] ?? ''} ${start.slice(0, 4)}`;
  }

  protected asMethod(text: string): Asked {
    return this.methods.find((each) => each === text) ?? 'best';
  }

  protected ask(change: Partial<Wish>): void {
    const view = this.view();
    if (!view || this.busy()) return;
    this.busy.set(true);
    this.problem.set(null);
    const reference = { referenceId: view.reference?.itemId ?? null, factor: view.reference?.factor ?? '1' };
    const place = this.place();
    const body = { ...place, period: view.period, method: view.asked, leaveOutliers: view.leaveOutliers, ...reference, ...change };
    this.client.call(api.planning.computeForecast, { body }).subscribe({
      next: (fresh) => {
        this.take(fresh, place);
        this.busy.set(false);
      },
      error: (error: unknown) => {
        this.problem.set(problemOf(error));
        this.busy.set(false);
      },
    });
  }

  protected type(start: string, text: string, because: string, before: ForecastView['figures'][number]): void {
    const typed = text.trim() === '' ? null : text;
    const note = typed === null ? '' : because;
    if (typed === before.typed && note === before.note) return;
    const place = this.place();
    this.client.call(api.planning.typeForecast, { params: { ...place, start }, body: { typed, note } }).subscribe({
      next: (fresh) => this.take(fresh, place),
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }

  /** Shows what a command answers, unless somebody looks at another forecast by now. */
  private take(fresh: ForecastView, place: { readonly itemId: number; readonly warehouseId: number }): void {
    if (this.place() !== place) return;
    this.view.set(fresh);
    this.problem.set(null);
  }
}
