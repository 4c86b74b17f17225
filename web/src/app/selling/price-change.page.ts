/** Changing many prices: each old and new one with its margin, then all but those taken out. */
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal, untracked } from '@angular/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, roundings, type AnswerOf } from '@terrace/contract';
import { ApiClient } from '../client/api-client';
import { Choices } from '../client/choices';
import { NumberField } from '../ui/fields';
import { CostPipe, GroupedPipe } from '../ui/format';
import { Control, entryOf } from '../ui/forms';
import { Labelled } from '../ui/labelled';
import { Leave } from '../ui/leave';
import { Refused } from '../ui/refusal';
import { CheckField } from '../ui/check-field';
import { SelectField, SelectOption } from '../ui/select-field';
import { Sheet } from '../ui/sheet';

type Preview = AnswerOf<typeof api.selling.previewPrices>;

interface ChangeDraft {
  /** The price list; 0 for the list prices of items. */
  readonly listId: number;
  readonly group: string;
  readonly percent: string;
  readonly rounding: (typeof roundings)[number];
}

function asked({ listId, group, percent, rounding }: ChangeDraft) {
  return { ...(listId > 0 ? { listId } : {}), ...(group === '' ? {} : { group }), percent, rounding };
}

@Component({
  imports: [Control, Leave, Sheet, NzButtonModule, CheckField, SelectField, SelectOption, Labelled, NumberField, Refused, CostPipe, GroupedPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <h1>Change many prices</h1>
      <div class="fields">
        <t-field name="Which prices">
          <t-select as="number" [formField]="entry.fields.listId">
            <t-option [value]="0" label="List prices of items" />
            @for (each of choices.all().priceLists; track each.id) {
              <t-option [value]="each.id" label="Amounts of {{ each.code }}" />
            }
          </t-select>
        </t-field>
        <t-field name="Of which items">
          <t-select [formField]="entry.fields.group">
            <t-option value="" label="All" />
            @for (each of choices.all().groups; track each.code) {
              <t-option [value]="each.code" label="{{ each.name }}" />
            }
          </t-select>
        </t-field>
        <t-field name="Change, %" hint="a minus lowers">
          <t-number label="Percent" [formField]="entry.fields.percent" />
        </t-field>
        <t-field name="Rounded to">
          <t-select [formField]="entry.fields.rounding">
            @for (each of roundings; track each) {
              <t-option [value]="each" label="{{ each.startsWith('.') ? 'endings of ' + each : each }}" />
            }
          </t-select>
        </t-field>
      </div>
      <div class="acts">
        <button nz-button type="button" class="act" [class.first]="!shown()" [disabled]="draft().percent === '' || entry.busy()" (click)="look()">
          Look at it
        </button>
        @if (shown(); as preview) {
          <button nz-button type="button" class="act first" [disabled]="entry.busy() || count() === 0" (click)="change()">
            Change {{ count() }} {{ count() === 1 ? 'price' : 'prices' }}
          </button>
          <span class="quiet">{{ preview.unchanged }} would stay as they are</span>
        }
        <span class="good" role="status">{{ done() }}</span>
      </div>
      <t-refusal [problem]="entry.problem()" />
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
    <t-leave [entry]="entry" />
  `,
  styleUrl: '../catalogue/item-edit.page.less',
})
export class PriceChangePage {
  readonly list = input<string>();
  private readonly client = inject(ApiClient);
  protected readonly choices = inject(Choices);
  protected readonly roundings = roundings;
  protected readonly draft = signal<ChangeDraft>({ listId: 0, group: '', percent: '', rounding: '0.05' });
  protected readonly entry = entryOf({
    draft: this.draft,
    route: () => (this.draft().percent === '' ? null : api.selling.changePrices),
    body: (draft) => ({ ...asked(draft), print: '', except: [] }),
  });
  private readonly preview = signal<{ readonly of: ChangeDraft; readonly found: Preview } | null>(null);
  /** What would change; nothing as soon as something else is typed. */
  protected readonly shown = computed(() => {
    const preview = this.preview();
    return preview && JSON.stringify(preview.of) === JSON.stringify(this.draft()) ? preview.found : null;
  });
  protected readonly without = signal<ReadonlySet<number>>(new Set());
  protected readonly done = signal('');
  protected readonly count = computed(() => (this.shown()?.rows ?? []).filter((row) => !this.without().has(row.id)).length);

  constructor() {
    effect(() => {
      const listId = Number(this.list() ?? 0);
      untracked(() => this.entry.preset({ listId }));
    });
  }

  protected turn(id: number): void {
    this.without.update((without) => {
      const next = new Set(without);
      if (!next.delete(id)) next.add(id);
      return next;
    });
  }

  protected look(): void {
    const of = this.draft();
    this.done.set('');
    this.entry.send(
      this.client.call(api.selling.previewPrices, { query: asked(of) }),
      (found) => {
        this.preview.set({ of, found });
        this.without.set(new Set());
      },
      'part',
    );
  }

  protected change(): void {
    const preview = this.shown();
    if (!preview) return;
    const body = { ...asked(this.draft()), print: preview.print, except: [...this.without()] };
    this.entry.send(this.client.call(api.selling.changePrices, { body }), ({ changed }) => {
      this.preview.set(null);
      this.done.set(`${changed} ${changed === 1 ? 'price' : 'prices'} changed.`);
    });
  }
}
