/** How an item is planned in each warehouse; set here. */
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal, untracked } from '@angular/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, demandModes, planningSources, type BodyIn, type ItemView } from '@terrace/contract';
import { RULE_FIELDS, readSafety, readSizing, type RuleField } from '@terrace/core';
import { Choices } from '../client/choices';
import { NumberField } from '../ui/fields';
import { GroupedPipe, grouped } from '../ui/format';
import { Control, entryOf } from '../ui/forms';
import { Labelled } from '../ui/labelled';
import { DEMAND_WORDS, RULE_NAMES, originWords, ruleTextWords } from '../ui/rule-texts';
import { SizingField, sizingWords } from '../ui/sizing-field';
import { ItemStore } from './item.store';
import { SelectField, SelectOption } from '../ui/select-field';
import { Sheet } from '../ui/sheet';
import { Tip } from '../ui/tip';
import { Fold } from '../ui/fold';

type Source = (typeof planningSources)[number];
type Sizing = ItemView['rules'][number]['lotSizing'];
type Safety = ItemView['rules'][number]['safetyBy'];

interface RuleDraft {
  readonly warehouseId: number;
  readonly source: Source;
  readonly fromId: number | null;
  readonly leadDays: string;
  readonly safety: string;
  readonly safetyBy: Safety['by'];
  readonly safetyDays: string;
  readonly safetyLevel: string;
  readonly lotSizing: Sizing;
  readonly minimum: string;
  readonly multiple: string;
  readonly maximum: string;
  readonly usable: string;
  readonly fenceDays: string;
  readonly slackDays: string;
  readonly demand: (typeof demandModes)[number];
  readonly consumeBack: string;
  readonly consumeForward: string;
  readonly follows: readonly RuleField[];
  readonly version?: number;
}

const ASKED: readonly RuleField[] = ['leadDays', 'safety', 'sizing'];
const SAFETIES: readonly { readonly by: Safety['by']; readonly name: string }[] = [
  { by: 'quantity', name: 'a quantity' },
  { by: 'days', name: 'days of average demand' },
  { by: 'service', name: 'a service level' },
];
/** A rule as it is before anything is said of it. */
const EMPTY: RuleDraft = {
  warehouseId: 0,
  source: 'buy',
  fromId: null,
  leadDays: '0',
  safety: '0',
  safetyBy: 'quantity',
  safetyDays: '10',
  safetyLevel: '0.95',
  lotSizing: { kind: 'lotForLot' },
  minimum: '0',
  multiple: '0',
  maximum: '',
  usable: '1',
  fenceDays: '0',
  slackDays: '2',
  demand: 'orders',
  consumeBack: '0',
  consumeForward: '0',
  follows: [],
};

function basisOf({ safetyBy, safetyDays, safetyLevel }: RuleDraft): Safety {
  switch (safetyBy) {
    case 'quantity':
      return { by: 'quantity' };
    case 'days':
      return { by: 'days', days: Number(safetyDays || '0') };
    case 'service':
      return { by: 'service', level: safetyLevel };
  }
}

/** What stands in the fields of the basis of a safety stock. */
function fieldsOf(basis: Safety): Pick<RuleDraft, 'safetyBy' | 'safetyDays' | 'safetyLevel'> {
  return {
    safetyBy: basis.by,
    safetyDays: basis.by === 'days' ? String(basis.days) : EMPTY.safetyDays,
    safetyLevel: basis.by === 'service' ? basis.level : EMPTY.safetyLevel,
  };
}

function bodyOf(draft: RuleDraft): BodyIn<typeof api.planning.setRule> {
  const { version, maximum, fromId, follows, safetyDays: _days, safetyLevel: _level, ...rest } = draft;
  const whole = (text: string): number => Number(text || '0');
  return {
    ...rest,
    follows: [...follows],
    ...(version === undefined ? {} : { version }),
    safetyBy: basisOf(draft),
    fromId: draft.source === 'transfer' && fromId !== null && fromId > 0 ? fromId : null,
    maximum: maximum === '' ? null : maximum,
    leadDays: whole(draft.leadDays),
    slackDays: whole(draft.slackDays),
    fenceDays: whole(draft.fenceDays),
    consumeBack: whole(draft.consumeBack),
    consumeForward: whole(draft.consumeForward),
    safety: draft.safety || '0',
    minimum: draft.minimum || '0',
    multiple: draft.multiple || '0',
  };
}

/** Where a place of what is sent stands in the fields. */
function placeOf(place: string): string {
  if (place === 'safetyBy.days') return 'safetyDays';
  if (place === 'safetyBy.level') return 'safetyLevel';
  return place.startsWith('lotSizing.') ? 'lotSizing' : place;
}

@Component({
  selector: 't-item-rules',
  imports: [Control, Fold, Tip, Sheet, NzButtonModule, SelectField, SelectOption, NumberField, Labelled, SizingField, GroupedPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-fold class="pane" heading="Planning" kept="item.rules" unfolded>
      <t-sheet>
        <thead>
          <tr>
            <th>In</th>
            <th>From</th>
            <th class="figure">Lead time</th>
            <th class="figure">Safety stock</th>
            <th>Lot sizing</th>
            @if (editable()) {
              <th><span class="sr">Change</span></th>
            }
          </tr>
        </thead>
        <tbody>
          @for (rule of item().rules; track rule.warehouseId) {
            <tr>
              <td>{{ rule.warehouse }}</td>
              <td>{{ rule.source === 'transfer' ? rule.from : rule.source }}</td>
              <td class="figure">
                {{ rule.source === 'buy' && rule.leadDays === 0 ? 'supplier’s' : rule.leadDays }}
                <span class="from">{{ above(rule, 'leadDays') }}</span>
              </td>
              <td class="figure" [tTip]="rule.safetyWords">
                {{ rule.safety | grouped }}
                @if (rule.safetyWords !== '') {
                  <span class="quiet">computed</span>
                }
                <span class="from">{{ above(rule, 'safety') }}</span>
              </td>
              <td>
                {{ sizingWords(rule) }} <span class="from">{{ above(rule, 'sizing') }}</span>
              </td>
              @if (editable()) {
                <td>
                  <button
                    nz-button
                    type="button"
                    class="act plain small"
                    [attr.aria-label]="'Change planning in ' + rule.warehouse"
                    (click)="open(rule)"
                  >
                    Change
                  </button>
                </td>
              }
            </tr>
          } @empty {
            <tr>
              <td class="quiet" colspan="6">No rule yet: the plan leaves it out, and says so where it is short.</td>
            </tr>
          }
        </tbody>
      </t-sheet>
      @if (editing()) {
        @let rule = draft();
        <div class="fields">
          <t-field name="Source">
            <t-select [formField]="entry.fields.source">
              @for (each of sources; track each) {
                <t-option [value]="each" label="{{ each }}" />
              }
            </t-select>
          </t-field>
          @if (rule.source === 'transfer') {
            <t-field name="From">
              <t-select as="number" placeholder="choose" [formField]="entry.fields.fromId">
                @for (each of others(rule.warehouseId); track each.id) {
                  <t-option [value]="each.id" label="{{ each.code }}" />
                }
              </t-select>
            </t-field>
          }
          @if (isOwn('sizing')) {
            <t-sizing [formField]="entry.fields.lotSizing" [refused]="entry.refused()['lotSizing']" />
          }
          @if (isOwn('safety')) {
            <t-field name="Safety stock as">
              <t-select [formField]="entry.fields.safetyBy">
                @for (each of safeties; track each.by) {
                  <t-option [value]="each.by" label="{{ each.name }}" />
                }
              </t-select>
            </t-field>
            @switch (rule.safetyBy) {
              @case ('quantity') {
                <t-field name="Safety stock">
                  <t-number label="Safety stock" [packs]="item().packs" [formField]="entry.fields.safety" />
                </t-field>
              }
              @case ('days') {
                <t-field name="Days of demand">
                  <t-number label="Days of demand" [formField]="entry.fields.safetyDays" />
                </t-field>
              }
              @case ('service') {
                <t-field name="Service level, as a share">
                  <t-number label="Service level, as a share" [formField]="entry.fields.safetyLevel" />
                </t-field>
              }
            }
          }
          @if (isOwn('demand')) {
            <t-field name="Demand counted">
              <t-select [formField]="entry.fields.demand">
                @for (each of demands; track each) {
                  <t-option [value]="each" label="{{ demandWords[each] }}" />
                }
              </t-select>
            </t-field>
          }
          @for (each of figures; track each.key) {
            @if (isOwn(each.key) && (each.when === '' || each.when === rule.demand)) {
              <t-field [name]="each.name">
                <t-number [label]="each.name" [packs]="item().packs" [formField]="entry.fields[each.key]" />
              </t-field>
            }
          }
        </div>
        @if (rule.follows.length > 0) {
          <h3>From the item and its group</h3>
          <ul class="followed">
            @for (field of rule.follows; track field) {
              <li>
                <span>{{ names[field] }}</span> <b>{{ words(field, item().ruleGiven[field].value) }}</b>
                <span [class.from]="item().ruleGiven[field].from !== 'plain'" [class.quiet]="item().ruleGiven[field].from === 'plain'">{{
                  from(item().ruleGiven[field])
                }}</span>
                <button nz-button type="button" class="act plain small" [attr.aria-label]="'Set here: ' + names[field]" (click)="own(field)">
                  Set here
                </button>
              </li>
            }
          </ul>
        }
        @if (ownFields().length > 0) {
          <t-field name="Take from the item or its group">
            <t-select #giveUp label="Take from the item or its group" (valueChange)="follow($event); giveUp.current.set('')">
              <t-option value="" label="choose a figure" />
              @for (field of ownFields(); track field) {
                <t-option
                  [value]="field"
                  label="{{ names[field] }}: {{ words(field, item().ruleGiven[field].value) }} {{ from(item().ruleGiven[field]) }}"
                />
              }
            </t-select>
          </t-field>
        }
        <div class="acts">
          <button nz-button type="button" class="act first" [disabled]="store.busy()" (click)="save()">
            Save planning in {{ warehouseOf(rule.warehouseId) }}
          </button>
          <button nz-button type="button" class="act plain small" (click)="close()">Leave it</button>
        </div>
      } @else if (editable()) {
        <div class="acts">
          @for (each of free(); track each.id) {
            <button nz-button type="button" class="act small" (click)="begin(each.id)">Plan it in {{ each.code }}</button>
          }
        </div>
      }
    </t-fold>
  `,
  styleUrl: './item-edit.page.less',
})
export class ItemRules {
  readonly item = input.required<ItemView>();
  readonly editable = input(false);
  protected readonly store = inject(ItemStore);
  protected readonly choices = inject(Choices);
  protected readonly draft = signal<RuleDraft>(EMPTY);
  protected readonly editing = signal(false);
  protected readonly entry = entryOf({
    part: () => 'rules',
    draft: this.draft,
    problem: () => (this.editing() ? this.store.problem() : null),
    route: () => (this.editing() ? api.planning.setRule : null),
    body: bodyOf,
    place: placeOf,
  });
  protected readonly free = computed(() =>
    this.choices.all().warehouses.filter((each) => !this.item().rules.some((rule) => rule.warehouseId === each.id)),
  );
  protected readonly sources = planningSources;
  protected readonly safeties = SAFETIES;
  protected readonly demands = demandModes;
  protected readonly demandWords = DEMAND_WORDS;
  protected readonly names = RULE_NAMES;
  protected readonly from = originWords;
  protected readonly words = ruleTextWords;
  /** Figures that the rule in hand says itself. */
  protected readonly ownFields = computed(() => RULE_FIELDS.filter((field) => this.isOwn(field)));
  protected readonly figures = [
    { key: 'leadDays', name: 'Lead time, days; 0 takes the supplier’s', when: '' },
    { key: 'minimum', name: 'Minimum order', when: '' },
    { key: 'multiple', name: 'Order multiple', when: '' },
    { key: 'maximum', name: 'Maximum order; empty for any', when: '' },
    { key: 'usable', name: 'Yield', when: '' },
    { key: 'fenceDays', name: 'Time fence, working days', when: '' },
    { key: 'slackDays', name: 'Slack before re-dating, days', when: '' },
    { key: 'consumeBack', name: 'Forecast consumed back, days', when: 'consume' },
    { key: 'consumeForward', name: 'Forecast consumed ahead, days', when: 'consume' },
  ] as const;

  constructor() {
    effect(() => {
      const { rules } = this.item();
      untracked(() => {
        const waiting = this.entry.waiting();
        if (!waiting) return;
        const rule = rules.find((each) => each.warehouseId === waiting.warehouseId);
        if (rule) this.open(rule);
        else this.begin(waiting.warehouseId);
      });
    });
  }

  protected open({ safetyBy, ...rule }: ItemView['rules'][number]): void {
    const text = (value: number): string => String(value);
    this.edit({
      ...rule,
      ...fieldsOf(safetyBy),
      leadDays: text(rule.leadDays),
      slackDays: text(rule.slackDays),
      fenceDays: text(rule.fenceDays),
      consumeBack: text(rule.consumeBack),
      consumeForward: text(rule.consumeForward),
      maximum: rule.maximum ?? '',
    });
  }

  protected begin(warehouseId: number): void {
    this.edit({
      ...EMPTY,
      warehouseId,
      source: this.item().bom.length > 0 ? 'make' : 'buy',
      // Whatever the item or its group says holds until something else is said here; what most rules say is asked for.
      follows: RULE_FIELDS.filter((field) => !ASKED.includes(field) || this.item().ruleGiven[field].from !== 'plain'),
    });
  }

  private edit(draft: RuleDraft): void {
    this.entry.begin(draft);
    this.editing.set(true);
  }

  protected close(): void {
    this.entry.settle();
    this.editing.set(false);
  }

  /** Where a figure is from, if not from the rule itself. */
  protected above(rule: ItemView['rules'][number], field: RuleField): string {
    const { from, name } = this.item().ruleGiven[field];
    return from === 'plain' || !rule.follows.includes(field) ? '' : originWords({ value: '', from, name });
  }

  protected isOwn(field: RuleField): boolean {
    return !this.draft().follows.includes(field);
  }

  /** Has a figure said here, beginning with what was given. */
  protected own(field: RuleField): void {
    const text = this.item().ruleGiven[field].value;
    const follows = this.draft().follows.filter((each) => each !== field);
    if (field === 'sizing') this.set({ follows, lotSizing: readSizing(text) });
    else if (field === 'safety') {
      const { basis, quantity } = readSafety(text);
      this.set({ follows, ...fieldsOf(basis), safety: quantity });
    } else if (field === 'demand') this.set({ follows, demand: this.asDemand(text) });
    else this.set({ follows, ...this.asChange(field, text === 'any' ? '' : text) });
  }

  protected follow(field: string): void {
    const chosen = RULE_FIELDS.find((each) => each === field);
    if (chosen) this.set({ follows: [...this.draft().follows, chosen] });
  }

  /** How its orders are sized, in a few words. */
  protected sizingWords(rule: ItemView['rules'][number]): string {
    const parts = [sizingWords(rule.lotSizing)].filter((each) => each !== '');
    if (rule.minimum !== '0') parts.push(`at least ${grouped(rule.minimum)}`);
    if (rule.multiple !== '0') parts.push(`by ${grouped(rule.multiple)}`);
    if (rule.maximum !== null) parts.push(`at most ${grouped(rule.maximum)}`);
    return parts.join(', ') || 'lot-for-lot';
  }

  protected others(warehouseId: number): { readonly id: number; readonly code: string }[] {
    return this.choices.all().warehouses.filter((each) => each.id !== warehouseId);
  }

  private asDemand(value: string): RuleDraft['demand'] {
    return demandModes.find((each) => each === value) ?? 'orders';
  }

  protected set(change: Partial<RuleDraft>): void {
    this.draft.update((draft) => ({ ...draft, ...change }));
  }

  private asChange(key: string, value: string): Partial<RuleDraft> {
    return { [key]: value };
  }

  protected warehouseOf(id: number): string {
    return this.choices.all().warehouses.find((each) => each.id === id)?.code ?? '';
  }

  protected save(): void {
    this.store.perform(api.planning.setRule, { params: { id: this.item().id }, body: bodyOf(this.draft()) }, () => this.close());
  }
}
