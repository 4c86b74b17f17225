/** How an item is planned in each warehouse; set here. */
import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, demandModes, planningSources, type ItemView } from '@terrace/contract';
import { RULE_FIELDS, readSafety, readSizing, type RuleField } from '@terrace/core';
import { Choices } from '../client/choices';
import { NumberField } from '../ui/fields';
import { GroupedPipe, grouped } from '../ui/format';
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
  readonly safetyBy: Safety;
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
const SAFETIES: readonly { readonly by: Safety['by']; readonly name: string; readonly start: Safety }[] = [
  { by: 'quantity', name: 'a quantity', start: { by: 'quantity' } },
  { by: 'days', name: 'days of average demand', start: { by: 'days', days: 10 } },
  { by: 'service', name: 'a service level', start: { by: 'service', level: '0.95' } },
];
@Component({
  selector: 't-item-rules',
  imports: [Fold, Tip, Sheet, NzButtonModule, SelectField, SelectOption, NumberField, Labelled, SizingField, GroupedPipe],
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
      @if (draft(); as rule) {
        <div class="fields">
          <t-field name="Source">
            <t-select [value]="rule.source" (valueChange)="set({ source: asSource($event) })">
              @for (each of sources; track each) {
                <t-option [value]="each" label="{{ each }}" />
              }
            </t-select>
          </t-field>
          @if (rule.source === 'transfer') {
            <t-field name="From" [refused]="fields()['fromId']">
              <t-select [value]="rule.fromId" (valueChange)="set({ fromId: +$event })">
                <t-option [value]="0" label="choose" />
                @for (each of others(rule.warehouseId); track each.id) {
                  <t-option [value]="each.id" label="{{ each.code }}" />
                }
              </t-select>
            </t-field>
          }
          @if (isOwn('sizing')) {
            <t-sizing [value]="rule.lotSizing" [refused]="fields()['lotSizing']" (valueChange)="set({ lotSizing: $event })" />
          }
          @if (isOwn('safety')) {
            <t-field name="Safety stock is">
              <t-select [value]="rule.safetyBy.by" (valueChange)="setSafety($event)">
                @for (each of safeties; track each.by) {
                  <t-option [value]="each.by" label="{{ each.name }}" />
                }
              </t-select>
            </t-field>
            @switch (rule.safetyBy.by) {
              @case ('quantity') {
                <t-field name="Safety stock" [refused]="fields()['safety']">
                  <t-number label="Safety stock" [packs]="item().packs" [value]="rule.safety" (valueChange)="set({ safety: $event })" />
                </t-field>
              }
              @case ('days') {
                <t-field name="Days of demand">
                  <t-number
                    label="Days of demand"
                    [value]="daysOf(rule.safetyBy)"
                    (valueChange)="set({ safetyBy: { by: 'days', days: +$event || 0 } })"
                  />
                </t-field>
              }
              @case ('service') {
                <t-field name="Served from stock, as a share" [refused]="fields()['safetyBy']">
                  <t-number
                    label="Served from stock, as a share"
                    [value]="levelOf(rule.safetyBy)"
                    (valueChange)="set({ safetyBy: { by: 'service', level: $event } })"
                  />
                </t-field>
              }
            }
          }
          @if (isOwn('demand')) {
            <t-field name="Counts">
              <t-select [value]="rule.demand" (valueChange)="set({ demand: asDemand($event) })">
                @for (each of demands; track each) {
                  <t-option [value]="each" label="{{ demandWords[each] }}" />
                }
              </t-select>
            </t-field>
          }
          @for (each of figures; track each.key) {
            @if (isOwn(each.key) && (each.when === '' || each.when === rule.demand)) {
              <t-field [name]="each.name" [refused]="fields()[each.key]">
                <t-number [label]="each.name" [packs]="item().packs" [value]="rule[each.key]" (valueChange)="set(asChange(each.key, $event))" />
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
                <button nz-button type="button" class="act plain small" [attr.aria-label]="'Say here: ' + names[field]" (click)="own(field)">
                  Say it here
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
            Plan it so in {{ warehouseOf(rule.warehouseId) }}
          </button>
          <button nz-button type="button" class="act plain small" (click)="draft.set(null)">Leave it</button>
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
  protected readonly draft = signal<RuleDraft | null>(null);
  protected readonly fields = computed(() => this.store.problem()?.fields ?? {});
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
  protected readonly ownFields = computed(() => RULE_FIELDS.filter((field) => this.draft()?.follows.includes(field) === false));
  protected readonly figures = [
    { key: 'leadDays', name: 'Lead time, days; 0 takes the supplier’s', when: '' },
    { key: 'minimum', name: 'Minimum order', when: '' },
    { key: 'multiple', name: 'Order multiple', when: '' },
    { key: 'maximum', name: 'Maximum order; empty for any', when: '' },
    { key: 'usable', name: 'Yield', when: '' },
    { key: 'fenceDays', name: 'Planning fence, working days', when: '' },
    { key: 'slackDays', name: 'Slack before re-dating, days', when: '' },
    { key: 'consumeBack', name: 'Forecast consumed back, days', when: 'consume' },
    { key: 'consumeForward', name: 'Forecast consumed ahead, days', when: 'consume' },
  ] as const;

  protected open(rule: ItemView['rules'][number]): void {
    const text = (value: number): string => String(value);
    this.draft.set({
      ...rule,
      leadDays: text(rule.leadDays),
      slackDays: text(rule.slackDays),
      fenceDays: text(rule.fenceDays),
      consumeBack: text(rule.consumeBack),
      consumeForward: text(rule.consumeForward),
      maximum: rule.maximum ?? '',
    });
  }

  protected begin(warehouseId: number): void {
    this.draft.set({
      warehouseId,
      source: this.item().bom.length > 0 ? 'make' : 'buy',
      fromId: null,
      leadDays: '0',
      safety: '0',
      safetyBy: { by: 'quantity' },
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
      // Whatever the item or its group says holds until something else is said here; what most rules say is asked for.
      follows: RULE_FIELDS.filter((field) => !ASKED.includes(field) || this.item().ruleGiven[field].from !== 'plain'),
    });
  }

  /** Where a figure is from, if not from the rule itself. */
  protected above(rule: ItemView['rules'][number], field: RuleField): string {
    const { from, name } = this.item().ruleGiven[field];
    return from === 'plain' || !rule.follows.includes(field) ? '' : originWords({ value: '', from, name });
  }

  protected isOwn(field: RuleField): boolean {
    return this.draft()?.follows.includes(field) === false;
  }

  /** Has a figure said here, beginning with what was given. */
  protected own(field: RuleField): void {
    const text = this.item().ruleGiven[field].value;
    const follows = (this.draft()?.follows ?? []).filter((each) => each !== field);
    if (field === 'sizing') this.set({ follows, lotSizing: readSizing(text) });
    else if (field === 'safety') {
      const { basis, quantity } = readSafety(text);
      this.set({ follows, safetyBy: basis, safety: quantity });
    } else if (field === 'demand') this.set({ follows, demand: this.asDemand(text) });
    else this.set({ follows, ...this.asChange(field, text === 'any' ? '' : text) });
  }

  protected follow(field: string): void {
    const chosen = RULE_FIELDS.find((each) => each === field);
    const draft = this.draft();
    if (chosen && draft) this.set({ follows: [...draft.follows, chosen] });
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

  protected setSafety(by: string): void {
    const safety = SAFETIES.find((each) => each.by === by);
    if (safety) this.set({ safetyBy: safety.start });
  }

  protected daysOf(basis: Safety): string {
    return basis.by === 'days' ? String(basis.days) : '';
  }

  protected levelOf(basis: Safety): string {
    return basis.by === 'service' ? basis.level : '';
  }

  protected asDemand(value: string): RuleDraft['demand'] {
    return demandModes.find((each) => each === value) ?? 'orders';
  }

  protected set(change: Partial<RuleDraft>): void {
    this.draft.update((draft) => draft && { ...draft, ...change });
  }

  protected asSource(value: string): RuleDraft['source'] {
    return planningSources.find((each) => each === value) ?? 'none';
  }

  protected asChange(key: string, value: string): Partial<RuleDraft> {
    return { [key]: value };
  }

  protected warehouseOf(id: number): string {
    return this.choices.all().warehouses.find((each) => each.id === id)?.code ?? '';
  }

  protected save(): void {
    const draft = this.draft();
    if (!draft) return;
    const { version, maximum, fromId, follows, ...rest } = draft;
    const body = {
      ...rest,
      follows: [...follows],
      ...(version === undefined ? {} : { version }),
      fromId: draft.source === 'transfer' && fromId !== null && fromId > 0 ? fromId : null,
      maximum: maximum === '' ? null : maximum,
      leadDays: Number(draft.leadDays || '0'),
      slackDays: Number(draft.slackDays || '0'),
      fenceDays: Number(draft.fenceDays || '0'),
      consumeBack: Number(draft.consumeBack || '0'),
      consumeForward: Number(draft.consumeForward || '0'),
      safety: draft.safety || '0',
      minimum: draft.minimum || '0',
      multiple: draft.multiple || '0',
    };
    this.store.perform(api.planning.setRule, { params: { id: this.item().id }, body }, () => this.draft.set(null));
  }
}
