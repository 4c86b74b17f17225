/** How an item is planned in each warehouse; set here. */
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal, untracked } from '@angular/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, demandModes, planningSources, type ItemView } from '@terrace/contract';
import { RULE_FIELDS, type RuleField } from '@terrace/core';
import { Choices } from '../client/choices';
import { NumberField } from '../ui/fields';
import { GroupedPipe } from '../ui/format';
import { Control, entryOf } from '../ui/forms';
import { Labelled } from '../ui/labelled';
import { DEMAND_WORDS, RULE_NAMES, originWords, ruleTextWords } from '../ui/rule-texts';
import { SizingField } from '../ui/sizing-field';
import { ItemStore } from './item.store';
import { EMPTY, bodyOf, draftOf, placeOf, saidAs, sizingOf, type Rule, type RuleDraft } from './rule-draft';
import { SelectField, SelectOption } from '../ui/select-field';
import { Sheet } from '../ui/sheet';
import { Tip } from '../ui/tip';
import { Fold } from '../ui/fold';

const ASKED: readonly RuleField[] = ['leadDays', 'safety', 'sizing'];
const SAFETIES: readonly { readonly by: RuleDraft['safetyBy']; readonly name: string }[] = [
  { by: 'quantity', name: 'a quantity' },
  { by: 'days', name: 'days of average demand' },
  { by: 'service', name: 'a service level' },
];
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
                {{ sizingOf(rule) }} <span class="from">{{ above(rule, 'sizing') }}</span>
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
  protected readonly sizingOf = sizingOf;
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

  protected open(rule: Rule): void {
    this.edit(draftOf(rule));
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
  protected above(rule: Rule, field: RuleField): string {
    const { from, name } = this.item().ruleGiven[field];
    return from === 'plain' || !rule.follows.includes(field) ? '' : originWords({ value: '', from, name });
  }

  protected isOwn(field: RuleField): boolean {
    return !this.draft().follows.includes(field);
  }

  /** Has a figure said here, beginning with what was given. */
  protected own(field: RuleField): void {
    const follows = this.draft().follows.filter((each) => each !== field);
    this.set({ follows, ...saidAs(field, this.item().ruleGiven[field].value) });
  }

  protected follow(field: string): void {
    const chosen = RULE_FIELDS.find((each) => each === field);
    if (chosen) this.set({ follows: [...this.draft().follows, chosen] });
  }

  protected others(warehouseId: number): { readonly id: number; readonly code: string }[] {
    return this.choices.all().warehouses.filter((each) => each.id !== warehouseId);
  }

  protected set(change: Partial<RuleDraft>): void {
    this.draft.update((draft) => ({ ...draft, ...change }));
  }

  protected warehouseOf(id: number): string {
    return this.choices.all().warehouses.find((each) => each.id === id)?.code ?? '';
  }

  protected save(): void {
    this.store.perform(api.planning.setRule, { params: { id: this.item().id }, body: bodyOf(this.draft()) }, () => this.close());
  }
}
