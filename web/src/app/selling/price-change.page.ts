/** Changing many prices: each old and new one with its margin, then all but those taken out. */
import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal, signal } from '@angular/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, roundings, type AnswerOf } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { Choices } from '../client/choices';
import { NumberField } from '../ui/fields';
import { CostPipe, GroupedPipe } from '../ui/format';
import { Labelled } from '../ui/labelled';
import { Refused } from '../ui/refusal';
import { CheckField } from '../ui/check-field';
import { SelectField, SelectOption } from '../ui/select-field';
import { Sheet } from '../ui/sheet';

type Preview = AnswerOf<typeof api.selling.previewPrices>;

@Component({
  imports: [Sheet, NzButtonModule, CheckField, SelectField, SelectOption, Labelled, NumberField, Refused, CostPipe, GroupedPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <h1>Change many prices</h1>
      <div class="fields">
        <t-field name="Which prices">
          <t-select [value]="listId()" (valueChange)="listId.set(+$event); shown.set(null)">
            <t-option value="0" label="List prices of items" />
            @for (each of choices.all().priceLists; track each.id) {
              <t-option [value]="each.id" label="Amounts of {{ each.code }}" />
            }
          </t-select>
        </t-field>
        <t-field name="Of which items">
          <t-select [value]="of()" (valueChange)="of.set($event); shown.set(null)">
            <t-option value="" label="All" />
            @for (each of choices.all().groups; track each.code) {
              <t-option [value]="each.code" label="{{ each.name }}" />
            }
          </t-select>
        </t-field>
        <t-field name="By percent, down with a minus" [refused]="problem()?.fields?.['percent']">
          <t-number label="Percent" [value]="percent()" (valueChange)="percent.set($event); shown.set(null)" />
        </t-field>
        <t-field name="Rounded to">
          <t-select [value]="rounding()" (valueChange)="rounding.set(asRounding($event)); shown.set(null)">
            @for (each of roundings; track each) {
              <t-option [value]="each" label="{{ each.startsWith('.') ? 'endings of ' + each : each }}" />
            }
          </t-select>
        </t-field>
      </div>
      <div class="acts">
        <button nz-button type="button" class="act" [class.first]="!shown()" [disabled]="percent() === '' || busy()" (click)="look()">
          Look at it
        </button>
        @if (shown(); as preview) {
          <button nz-button type="button" class="act first" [disabled]="busy() || count() === 0" (click)="change()">
            Change {{ count() }} {{ count() === 1 ? 'price' : 'prices' }}
          </button>
          <span class="quiet">{{ preview.unchanged }} would stay as they are</span>
        }
        <span class="good" role="status">{{ done() }}</span>
      </div>
      <t-refusal [problem]="problem()" />
      @if (shown(); as preview) {
        <t-sheet>
          <thead>
            <tr>
              <th><span class="sr">Change it</span></th>
              <th>Item</th>
              <th>Description</th>
              <th class="figure">Now</th>
              <th class="figure">Then</th>
              <th class="figure">Cost</th>
              <th class="figure">Margin now</th>
              <th class="figure">Margin then</th>
            </tr>
          </thead>
          <tbody>
            @for (row of preview.rows; track row.id) {
              <tr [class.quiet]="without().has(row.id)">
                <td>
                  <t-check [label]="'Change ' + row.code" [checked]="!without().has(row.id)" (checkedChange)="turn(row.id)" />
                </td>
                <td class="code">{{ row.code }}</td>
                <td>{{ row.description }}</td>
                <td class="figure">{{ row.from | grouped }}</td>
                <td class="figure">
                  <b>{{ row.to | grouped }}</b>
                </td>
                <td class="figure">{{ row.cost === '' ? '—' : (row.cost | cost) }}</td>
                <td class="figure" [class.trouble]="row.marginFrom.startsWith('-')">{{ row.marginFrom === '' ? '—' : row.marginFrom + ' %' }}</td>
                <td class="figure" [class.trouble]="row.marginTo.startsWith('-')">{{ row.marginTo === '' ? '—' : row.marginTo + ' %' }}</td>
              </tr>
            } @empty {
              <tr>
                <td colspan="8" class="quiet">No price would change.</td>
              </tr>
            }
          </tbody>
        </t-sheet>
      }
    </div>
  `,
  styleUrl: '../catalogue/item-edit.page.less',
})
export class PriceChangePage {
  readonly list = input<string>();
  private readonly client = inject(ApiClient);
  protected readonly choices = inject(Choices);
  protected readonly roundings = roundings;
  protected readonly listId = linkedSignal(() => Number(this.list() ?? 0));
  protected readonly of = signal('');
  protected readonly percent = signal('');
  protected readonly rounding = signal<(typeof roundings)[number]>('0.05');
  protected readonly shown = signal<Preview | null>(null);
  protected readonly without = signal<ReadonlySet<number>>(new Set());
  protected readonly busy = signal(false);
  protected readonly done = signal('');
  protected readonly problem = signal<Problem | null>(null);
  protected readonly count = computed(() => (this.shown()?.rows ?? []).filter((row) => !this.without().has(row.id)).length);

  protected asRounding(text: string): (typeof roundings)[number] {
    return roundings.find((each) => each === text) ?? 'none';
  }

  protected turn(id: number): void {
    this.without.update((without) => {
      const next = new Set(without);
      if (!next.delete(id)) next.add(id);
      return next;
    });
  }

  private asked() {
    return {
      ...(this.listId() > 0 ? { listId: this.listId() } : {}),
      ...(this.of() === '' ? {} : { group: this.of() }),
      percent: this.percent(),
      rounding: this.rounding(),
    };
  }

  protected look(): void {
    this.done.set('');
    this.problem.set(null);
    this.client.call(api.selling.previewPrices, { query: this.asked() }).subscribe({
      next: (preview) => {
        this.shown.set(preview);
        this.without.set(new Set());
      },
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }

  protected change(): void {
    const preview = this.shown();
    if (!preview || this.busy()) return;
    this.busy.set(true);
    this.problem.set(null);
    this.client.call(api.selling.changePrices, { body: { ...this.asked(), print: preview.print, except: [...this.without()] } }).subscribe({
      next: ({ changed }) => {
        this.busy.set(false);
        this.shown.set(null);
        this.done.set(`${changed} ${changed === 1 ? 'price' : 'prices'} changed.`);
      },
      error: (error: unknown) => {
        this.busy.set(false);
        this.problem.set(problemOf(error));
      },
    });
  }
}
