/** What is charged by itself: freight by weight, a small-order charge by value, for each way of shipping. */
import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type BodyIn, type ChargeRuleView, type ItemChoice } from '@terrace/contract';
import type { ChargeBasis } from '@terrace/core';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { sessionFeature } from '../client/session.state';
import { CheckField } from '../ui/check-field';
import { NumberField } from '../ui/fields';
import { GroupedPipe } from '../ui/format';
import { Control, entryOf } from '../ui/forms';
import { ItemField } from '../ui/item-field';
import { Labelled } from '../ui/labelled';
import { InCurrencyPipe } from '../ui/money';
import { OneOfField } from '../ui/one-of';
import { Refused } from '../ui/refusal';
import { Sheet } from '../ui/sheet';
import { TextField } from '../ui/text-field';

interface Draft {
  /** 0 of a new one. */
  readonly id: number;
  readonly version: number;
  readonly itemId: number;
  readonly code: string;
  readonly by: ChargeRuleView['by'];
  readonly carrier: string;
  readonly active: boolean;
  readonly steps: readonly { readonly from: string; readonly price: string }[];
}
const FRESH: Draft = { id: 0, version: 0, itemId: 0, code: '', by: 'weight', carrier: '', active: true, steps: [{ from: '0', price: '' }] };
const BASES = [
  { value: 'weight', words: 'What it weighs, kg' },
  { value: 'value', words: 'What it is worth' },
] as const satisfies readonly { value: ChargeBasis; words: string }[];

@Component({
  imports: [
    CheckField,
    Control,
    GroupedPipe,
    InCurrencyPipe,
    ItemField,
    Labelled,
    NumberField,
    NzButtonModule,
    OneOfField,
    Refused,
    Sheet,
    TextField,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <h1>Charges by rule</h1>
      <p class="quiet">
        Added to drafts and offers as a line of their own, as long as nobody types that charge themselves. A rule for a carrier goes before one for
        anybody; what is confirmed keeps what it has.
      </p>
      <t-refusal [problem]="problem()" />
      <t-sheet>
        <thead>
          <tr>
            <th>Charge</th>
            <th>Goes by</th>
            <th>Carrier</th>
            <th class="figure">{{ 'From … on' | inCurrency }}</th>
            <th><span class="sr">Change</span></th>
          </tr>
        </thead>
        <tbody>
          @for (rule of rules(); track rule.id) {
            <tr [class.quiet]="!rule.active">
              <td>
                <span class="code">{{ rule.code }}</span>
                <div class="quiet">{{ rule.active ? rule.description : 'not in use' }}</div>
              </td>
              <td>{{ rule.by }}</td>
              <td>{{ rule.carrier === '' ? 'any' : rule.carrier }}</td>
              <td class="figure">
                @for (step of rule.steps; track step.from) {
                  <div>
                    <span class="quiet">from {{ step.from | grouped }}{{ rule.by === 'weight' ? ' kg' : '' }}</span>
                    {{ +step.price === 0 ? 'nothing' : (step.price | grouped) }}
                  </div>
                }
              </td>
              <td>
                @if (rights().has('selling.price')) {
                  <button nz-button type="button" class="act small" [attr.aria-label]="'Change ' + rule.code" (click)="take(rule)">Change</button>
                }
              </td>
            </tr>
          } @empty {
            <tr>
              <td colspan="5" class="quiet">None yet: charges are typed as lines.</td>
            </tr>
          }
        </tbody>
      </t-sheet>
      @if (rights().has('selling.price')) {
        <form class="pane" (submit)="$event.preventDefault(); save()">
          <h2>{{ draft().id > 0 ? 'Change ' + draft().code : 'Another rule' }}</h2>
          <div class="header">
            <t-field name="Charge" [refused]="entry.refused()['itemId']">
              <t-item-field label="Charge" [code]="draft().code" (taken)="takeItem($event)" />
            </t-field>
            <t-field name="Only with carrier" hint="empty: any"><t-text [formField]="entry.fields.carrier" /></t-field>
          </div>
          <t-one-of label="Goes by" [options]="bases" [value]="draft().by" (chosen)="set({ by: $event })" />
          @for (step of draft().steps; track $index; let at = $index) {
            <div class="header">
              <t-field [name]="draft().by === 'weight' ? 'From, kg' : ('From' | inCurrency)"
                ><t-number label="From" [formField]="entry.fields.steps[at]!.from"
              /></t-field>
              <t-field [name]="'Charged' | inCurrency"><t-number label="Charged" [formField]="entry.fields.steps[at]!.price" /></t-field>
            </div>
          }
          <t-check [formField]="entry.fields.active">In use</t-check>
          <t-refusal [problem]="entry.problem()" (again)="load()" />
          <div class="acts">
            <button nz-button class="act first" [disabled]="entry.busy()">{{ draft().id > 0 ? 'Save the rule' : 'Add the rule' }}</button>
            <button nz-button type="button" class="act small" (click)="addStep()">Add a step</button>
            @if (draft().id > 0) {
              <button nz-button type="button" class="act plain small" (click)="begin()">Leave it</button>
            }
          </div>
        </form>
      }
    </div>
  `,
  styleUrl: '../ui/entry.less',
})
export class ChargesPage {
  private readonly client = inject(ApiClient);
  protected readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly bases = BASES;
  protected readonly rules = signal<readonly ChargeRuleView[]>([]);
  protected readonly problem = signal<Problem | null>(null);
  protected readonly draft = signal<Draft>(FRESH);
  protected readonly entry = entryOf({
    part: () => `rule ${this.draft().id}`,
    draft: this.draft,
    route: () => (this.draft().id > 0 ? api.selling.changeChargeRule : api.selling.addChargeRule),
    body: () => this.body(),
  });

  constructor() {
    this.load();
  }

  protected load(): void {
    this.client.call(api.selling.chargeRules).subscribe({
      next: (rules) => this.rules.set(rules),
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }

  protected set(change: Partial<Draft>): void {
    this.draft.update((draft) => ({ ...draft, ...change }));
  }

  protected takeItem(item: ItemChoice | null): void {
    this.set({ itemId: item?.id ?? 0, code: item?.code ?? '' });
  }

  protected take(rule: ChargeRuleView): void {
    const { id, version, itemId, code, by, carrier, active, steps } = rule;
    this.entry.begin({ id, version, itemId, code, by, carrier, active, steps });
  }

  protected begin(): void {
    this.entry.begin(FRESH);
  }

  protected addStep(): void {
    this.set({ steps: [...this.draft().steps, { from: '', price: '' }] });
  }

  /** What is sent: a step of which nothing is typed is none. */
  private body(): BodyIn<typeof api.selling.addChargeRule> {
    const { itemId, by, carrier, active, steps } = this.draft();
    return { itemId, by, carrier, active, steps: steps.filter(({ from, price }) => from !== '' || price !== '') };
  }

  protected save(): void {
    const { id, version } = this.draft();
    const body = this.body();
    const call =
      id > 0
        ? this.client.call(api.selling.changeChargeRule, { params: { id }, body: { ...body, version } })
        : this.client.call(api.selling.addChargeRule, { body });
    this.entry.send(call, () => {
      this.begin();
      this.load();
    });
  }
}
