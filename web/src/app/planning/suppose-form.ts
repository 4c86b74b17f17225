/** Puts together one thing to suppose: an order more, another day, a supplier lost, or another rule. */
import {
  ChangeDetectionStrategy,
  Component,
  Injector,
  afterNextRender,
  computed,
  effect,
  inject,
  output,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { planningSources, type ItemChoice } from '@terrace/contract';
import { UNSAID_RULE, type PlanningRule, type Supposition } from '@terrace/core';
import { Problem, problemOf } from '../client/api-client';
import { Choices } from '../client/choices';
import { DateField, NumberField } from '../ui/fields';
import { grouped, longDay, shortDay } from '../ui/format';
import { Control, entryOf } from '../ui/forms';
import { ItemField } from '../ui/item-field';
import { Labelled } from '../ui/labelled';
import { Refused } from '../ui/refusal';
import { SizingField } from '../ui/sizing-field';
import { changeOf, changeWords, draftOf, type RuleDraft } from './supposed-rule';
import { WhatIfChannel } from './what-if.channel';
import type { MovableRow } from './what-if.desk';
import { WhatIfStore } from './what-if.store';
import { SelectField, SelectOption } from '../ui/select-field';
import { TextField } from '../ui/text-field';
import { OneOfField } from '../ui/one-of';

const KINDS = [
  { value: 'order', words: 'An order more' },
  { value: 'move', words: 'Another day' },
  { value: 'lose', words: 'A supplier lost' },
  { value: 'rule', words: 'Another rule' },
] as const;

interface SupposeDraft {
  readonly kind: (typeof KINDS)[number]['value'];
  readonly warehouse: string;
  readonly quantity: string;
  readonly date: string;
  /** The supplier that delivers nothing any more. */
  readonly lost: string;
  readonly rule: RuleDraft;
}
const FIGURES = [
  { key: 'safety', name: 'Safety stock' },
  { key: 'minimum', name: 'Minimum order' },
  { key: 'multiple', name: 'Order multiple' },
] as const;

const EMPTY: SupposeDraft = { kind: 'order', warehouse: '', quantity: '', date: '', lost: '', rule: draftOf(UNSAID_RULE) };

@Component({
  selector: 't-suppose-form',
  imports: [
    Control,
    OneOfField,
    NzButtonModule,
    SelectField,
    SelectOption,
    TextField,
    DateField,
    NumberField,
    ItemField,
    Labelled,
    Refused,
    SizingField,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <form (submit)="$event.preventDefault(); suppose()">
      <t-one-of label="What to suppose" [options]="kinds" [value]="kind()" (chosen)="set({ kind: $event })" />
      <t-refusal [problem]="problem()" />
      @if (kind() === 'move') {
        <t-field name="Which" hint="by number, item or customer">
          <t-text label="Which" [value]="sought()" (valueChange)="seek($event)" />
        </t-field>
        @if (row(); as chosen) {
          <p class="chosen">{{ wordsOf(chosen) }}, {{ shortDay(chosen.date) }}</p>
        } @else {
          <ul aria-label="Found">
            @for (each of found(); track each.id) {
              <li>
                <button nz-button type="button" class="act plain small" (click)="choose(each)">
                  <span class="code">{{ each.id }}</span> <span>{{ wordsOf(each) }}</span> <span class="quiet">{{ shortDay(each.date) }}</span>
                </button>
              </li>
            }
          </ul>
        }
      }
      @if (kind() === 'lose') {
        <t-field name="Supplier who delivers nothing any more">
          <t-select label="Supplier" [formField]="entry.fields.lost">
            <t-option value="" label="choose" />
            @for (each of store.copy()?.suppliers ?? []; track each.id) {
              <t-option [value]="each.code" label="{{ each.name }}" />
            }
          </t-select>
        </t-field>
      }
      @if (kind() === 'order' || kind() === 'rule') {
        <div class="fields">
          <t-field name="Item"><t-item-field label="Item" [code]="item()?.code ?? ''" (taken)="take($event)" /></t-field>
          <t-field name="Warehouse">
            <t-select label="Warehouse" [formField]="entry.fields.warehouse" (valueChange)="loadRule()">
              @for (each of choices.all().warehouses; track each.id) {
                <t-option [value]="each.code" label="{{ each.code }}" />
              }
            </t-select>
          </t-field>
        </div>
      }
      @if (kind() === 'order') {
        <div class="fields">
          <t-field [name]="'Quantity' + (item() ? ', ' + item()?.unit : '')">
            <t-number label="Quantity" [packs]="item()?.packs ?? []" [formField]="entry.fields.quantity" />
          </t-field>
          <t-field name="Wanted on"><t-date label="Wanted on" [formField]="entry.fields.date" /></t-field>
        </div>
      }
      @if (kind() === 'move' && row()) {
        <div class="fields">
          <t-field [name]="row()?.what === 'order' ? 'Wanted on' : 'Comes on'">
            <t-date #day label="New day" [formField]="entry.fields.date" />
          </t-field>
        </div>
      }
      @if (kind() === 'rule' && item()) {
        <p class="quiet">
          {{ known() ? 'As it is planned now; change what to suppose. A lead time of 0 is the supplier’s.' : 'Not planned there yet.' }}
        </p>
        <div class="fields">
          <t-field name="Source">
            <t-select label="Source" [formField]="entry.fields.rule.source">
              @for (each of sources; track each) {
                <t-option [value]="each" label="{{ each }}" />
              }
            </t-select>
          </t-field>
          @if (draft().rule.source === 'transfer') {
            <t-field name="From">
              <t-select label="From" as="maybe" [formField]="entry.fields.rule.from">
                <t-option value="" label="choose" />
                @for (each of choices.all().warehouses; track each.id) {
                  @if (each.code !== place()) {
                    <t-option [value]="each.code" label="{{ each.code }}" />
                  }
                }
              </t-select>
            </t-field>
          }
          <t-field name="Lead time, days">
            <t-number label="Lead time, days" [formField]="entry.fields.rule.leadDays" />
          </t-field>
          @for (each of figures; track each.key) {
            <t-field [name]="each.name">
              <t-number [label]="each.name" [packs]="item()?.packs ?? []" [formField]="entry.fields.rule[each.key]" />
            </t-field>
          }
          <t-field name="Maximum order" hint="empty: any">
            <t-number label="Maximum order" [formField]="entry.fields.rule.maximum" />
          </t-field>
          <t-sizing [formField]="entry.fields.rule.lotSizing" />
        </div>
      }
      <div class="acts">
        <button nz-button class="act first" [disabled]="store.busy()">Suppose it</button>
      </div>
    </form>
  `,
  styles: `
    form {
      display: grid;
      gap: 10px;
      min-width: 0;
    }
    .fields {
      display: grid;
      grid-template-columns: 1fr 1fr;
      gap: 8px 10px;
      align-items: end;
    }
    ul {
      margin: 0;
      padding: 0;
      list-style: none;
      border: 1px solid var(--line);
    }
    ul:empty {
      display: none;
    }
    li .act {
      display: grid;
      grid-template-columns: 92px 1fr auto;
      gap: 8px;
      width: 100%;
      padding: 3px 6px;
      border: 0;
      background: none;
      color: inherit;
      font: inherit;
      font-size: 13px;
      text-align: left;
      cursor: pointer;
      span {
        min-width: 0;
      }
    }
    li .act:hover {
      background: var(--chosen);
    }
    p {
      margin: 0;
    }
  `,
})
export class SupposeForm {
  readonly supposed = output();
  protected readonly store = inject(WhatIfStore);
  protected readonly choices = inject(Choices);
  private readonly channel = inject(WhatIfChannel);
  private readonly injector = inject(Injector);
  private readonly day = viewChild<DateField>('day');
  protected readonly kinds = KINDS;
  protected readonly sources = planningSources;
  protected readonly figures = FIGURES;
  protected readonly shortDay = shortDay;
  protected readonly draft = signal<SupposeDraft>(EMPTY);
  // It is looked at on a copy in the browser: it takes nothing with it over a reload.
  protected readonly entry = entryOf({ keeps: false, draft: this.draft });
  protected readonly kind = computed(() => this.draft().kind);
  protected readonly problem = signal<Problem | null>(null);
  protected readonly item = signal<ItemChoice | null>(null);
  protected readonly sought = signal('');
  protected readonly found = signal<readonly MovableRow[]>([]);
  protected readonly row = signal<MovableRow | null>(null);
  /** The rule as it is; `null` where there is none. */
  protected readonly known = signal<PlanningRule | null>(null);
  protected readonly place = computed(() => this.draft().warehouse);
  /** What of the rule is to be different. */
  private readonly change = computed(() => changeOf(this.known(), this.draft().rule));

  constructor() {
    effect(() => {
      const warehouse = this.choices.all().warehouses.find((each) => each.id === this.choices.warehouseId())?.code ?? '';
      untracked(() => this.entry.preset({ warehouse }));
    });
  }

  /** Takes a row to move, as if it had been looked for. */
  async begin(id: string): Promise<void> {
    this.set({ kind: 'move' });
    await this.seek(id);
    const row = this.found().find((each) => each.id === id);
    if (row) this.choose(row);
  }

  protected async seek(text: string): Promise<void> {
    this.sought.set(text);
    this.row.set(null);
    try {
      const found = text.trim() === '' ? [] : await this.channel.ask({ about: 'find', text });
      if (this.sought() === text) this.found.set(found);
    } catch (error) {
      this.problem.set(problemOf(error));
    }
  }

  protected choose(row: MovableRow): void {
    this.row.set(row);
    this.sought.set(row.id);
    this.set({ date: row.date });
    // The list goes away with what was pressed: the day comes next.
    afterNextRender(() => this.day()?.focus(), { injector: this.injector });
  }

  protected take(item: ItemChoice): void {
    this.item.set(item);
    void this.loadRule();
  }

  protected async loadRule(): Promise<void> {
    const item = this.item();
    if (!item) return;
    try {
      const rule = await this.channel.ask({ about: 'rule', item: item.code, warehouse: this.place() });
      this.known.set(rule);
      this.set({ rule: draftOf(rule ?? UNSAID_RULE) });
    } catch (error) {
      this.problem.set(problemOf(error));
    }
  }

  protected set(change: Partial<SupposeDraft>): void {
    this.draft.update((draft) => ({ ...draft, ...change }));
  }

  protected wordsOf(row: MovableRow): string {
    return `${grouped(row.quantity)} ${row.unit} ${row.code}${row.whose === '' ? '' : ` for ${row.whose}`}`;
  }

  protected async suppose(): Promise<void> {
    this.problem.set(null);
    const kind = this.kind();
    const lacking = this.lacking();
    if (lacking !== '') {
      this.problem.set(new Problem('badInput', lacking, {}, {}));
      return;
    }
    const said = this.said();
    if (!said) return;
    await this.store.add(said.supposition, said.words);
    if (this.store.problem()) return;
    this.entry.begin({ ...EMPTY, kind, warehouse: this.place() });
    this.sought.set('');
    this.found.set([]);
    this.row.set(null);
    this.supposed.emit();
  }

  /** What is still to be said, as it is told; empty where all is there. */
  private lacking(): string {
    const { kind, quantity, date, lost } = this.draft();
    if (kind === 'lose') return lost === '' ? 'Choose a supplier.' : '';
    if (kind === 'move') return this.row() === null ? 'Choose what is to come or be wanted on another day.' : date === '' ? 'Say on which day.' : '';
    if (this.item() === null) return 'Choose an item.';
    if (kind === 'rule') return Object.keys(this.change()).length === 0 ? 'Change something of the rule.' : '';
    return quantity === '' ? 'Say how many.' : date === '' ? 'Say on which day.' : '';
  }

  private said(): { supposition: Supposition; words: string } | null {
    const { quantity, date, lost, warehouse } = this.draft();
    const [item, row] = [this.item(), this.row()];
    switch (this.kind()) {
      case 'order': {
        if (!item) return null;
        const supposition = {
          kind: 'order',
          name: `supposed ${this.store.nextKey()}`,
          item: item.code,
          warehouse,
          quantity,
          date,
        } as const;
        return { supposition, words: `${grouped(quantity)} ${item.unit} ${item.code} more wanted in ${warehouse} on ${longDay(date)}` };
      }
      case 'move': {
        if (!row) return null;
        const verb = row.what === 'order' ? 'wanted' : 'comes';
        return {
          supposition: { kind: 'move', id: row.id, date, seen: { item: row.code, date: row.date } },
          words: `${row.id} (${this.wordsOf(row)}) ${verb} on ${longDay(date)} instead of ${shortDay(row.date)}`,
        };
      }
      case 'lose': {
        const name = this.store.copy()?.suppliers.find((each) => each.code === lost)?.name ?? lost;
        return { supposition: { kind: 'lose', supplier: lost }, words: `${name} delivers nothing any more` };
      }
      case 'rule': {
        if (!item) return null;
        const change = this.change();
        return { supposition: { kind: 'rule', item: item.code, warehouse, change }, words: `${item.code} in ${warehouse}: ${changeWords(change)}` };
      }
    }
  }
}
