/** What an item asks of its lots or serial numbers, and its standard cost: shown and set here. */
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, output, signal, untracked } from '@angular/core';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type AnswerOf, type BodyIn, type ItemView } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { lastAsked } from '../client/last-asked';
import { sessionFeature } from '../client/session.state';
import { NumberField } from '../ui/fields';
import { Control, entryOf } from '../ui/forms';
import { Labelled } from '../ui/labelled';
import { Refused } from '../ui/refusal';
import { CompanyCurrency, InCurrencyPipe } from '../ui/money';
import { CheckField } from '../ui/check-field';
import { TextField } from '../ui/text-field';
import { Fold } from '../ui/fold';

type Rule = AnswerOf<typeof api.stores.trackingRule>;

/** As it is typed: days and months as texts. */
type RuleDraft = Readonly<Record<'useLifeDays' | 'warnDays' | 'warrantyMonths' | 'serialPattern', string>> &
  Readonly<Record<'expiryNeeded' | 'madeOnNeeded', boolean>>;
const UNSAID: Rule = { expiryNeeded: false, madeOnNeeded: false, useLifeDays: 0, warnDays: 0, serialPattern: '', warrantyMonths: 0, version: 0 };

function draftOf({ version: _version, ...rule }: Rule): RuleDraft {
  return { ...rule, useLifeDays: String(rule.useLifeDays), warnDays: String(rule.warnDays), warrantyMonths: String(rule.warrantyMonths) };
}

function bodyOf(draft: RuleDraft, rule: Rule | null): BodyIn<typeof api.stores.setTrackingRule> {
  return {
    ...draft,
    useLifeDays: Number(draft.useLifeDays || '0'),
    warnDays: Number(draft.warnDays || '0'),
    warrantyMonths: Number(draft.warrantyMonths || '0'),
    version: rule?.version ?? 0,
  };
}

@Component({
  selector: 't-item-tracking',
  imports: [Control, Fold, Labelled, NzButtonModule, CheckField, TextField, InCurrencyPipe, NumberField, Refused, RouterLink],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (item().tracking !== 'none' && rule(); as kept) {
      <t-fold class="pane" [heading]="item().tracking === 'lot' ? 'Lots' : 'Serial numbers'" kept="item.tracking" unfolded>
        @if (!changing()) {
          <p>{{ words() }}</p>
          <div class="acts">
            <a class="act small" [routerLink]="item().tracking === 'lot' ? '/stores/lots' : '/stores/serials'">See them</a>
            @if (editable()) {
              <button nz-button type="button" class="act small" (click)="open()">Change</button>
            }
          </div>
        } @else {
          <div class="acts">
            @if (item().tracking === 'lot') {
              <t-check [formField]="entry.fields.expiryNeeded">expiry must be given</t-check>
              <t-check [formField]="entry.fields.madeOnNeeded">made-on must be given</t-check>
              <t-field name="Minimum remaining life when used, days" style="width: 150px"
                ><t-number label="Minimum remaining life when used, days" [formField]="entry.fields.useLifeDays"
              /></t-field>
              <t-field name="Warn of expiry, days before" style="width: 150px"
                ><t-number label="Warn of expiry, days before" [formField]="entry.fields.warnDays"
              /></t-field>
            } @else {
              <t-field name="Pattern of new numbers"
                ><t-text kind="code" placeholder="LX{{ '{YY}' }}-{{ '{n:4}' }}{{ '{c}' }}" [formField]="entry.fields.serialPattern"
              /></t-field>
              <t-field name="Warranty, months" style="width: 130px"
                ><t-number label="Warranty, months" [formField]="entry.fields.warrantyMonths"
              /></t-field>
            }
            <button nz-button type="button" class="act first small" [disabled]="entry.busy()" (click)="save()">Keep</button>
            <button nz-button type="button" class="act small" (click)="close()">Leave it</button>
          </div>
        }
        <t-refusal [problem]="entry.problem() ?? problem()" />
      </t-fold>
    }
    @if (item().costing === 'standard') {
      <t-fold class="pane" heading="Standard cost" kept="item.cost" unfolded>
        <div class="acts">
          <b class="code">{{ item().standardCost | inCurrency }} each</b>
          @if (rights().has('accounts.invoice') && editable()) {
            <t-field name="New standard" style="width: 120px"><t-number label="New standard cost" [formField]="cost.fields.unitCost" /></t-field>
            <button nz-button type="button" class="act small" [disabled]="cost.busy() || standard().unitCost === ''" (click)="revalue()">
              Set it: stock is revalued
            </button>
          }
        </div>
        @if (news() !== '') {
          <p>{{ news() }}</p>
        }
        <t-refusal [problem]="cost.problem()" />
      </t-fold>
    }
  `,
})
export class ItemTracking {
  private readonly client = inject(ApiClient);
  private readonly currency = inject(CompanyCurrency);
  private readonly ask = lastAsked();
  readonly item = input.required<ItemView>();
  readonly editable = input(false);
  readonly changed = output();
  protected readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly rule = signal<Rule | null>(null);
  protected readonly draft = signal<RuleDraft>(draftOf(UNSAID));
  protected readonly entry = entryOf({
    part: () => 'tracking',
    draft: this.draft,
    route: () => (this.changing() ? api.stores.setTrackingRule : null),
    body: (draft) => bodyOf(draft, this.rule()),
  });
  protected readonly changing = signal(false);
  protected readonly problem = signal<Problem | null>(null);
  protected readonly standard = signal({ unitCost: '' });
  protected readonly cost = entryOf({
    part: () => 'standard cost',
    draft: this.standard,
    route: () => (this.standard().unitCost === '' ? null : api.stores.setStandardCost),
    body: (draft) => ({ ...draft, seen: this.item().standardCost }),
  });
  protected readonly news = signal('');
  private readonly itemId = computed(() => this.item().id);
  protected readonly words = computed(() => {
    const rule = this.rule();
    if (!rule) return '';
    const { shelfLifeDays, restLifeDays } = this.item();
    const parts =
      this.item().tracking === 'lot'
        ? [
            'Every move names its lot',
            rule.expiryNeeded ? 'expiry must be given' : '',
            rule.madeOnNeeded ? 'made-on must be given' : '',
            shelfLifeDays ? `lasts ${shelfLifeDays} days from when it is made` : '',
            restLifeDays ? `sold with ${restLifeDays} days left or more` : '',
            rule.useLifeDays > 0 ? `used with ${rule.useLifeDays} days left or more` : '',
            rule.warnDays > 0 ? `warned of ${rule.warnDays} days ahead` : '',
          ]
        : [
            'Every piece has a number',
            rule.serialPattern === '' ? 'numbers are typed or scanned' : `new ones are made as ${rule.serialPattern}`,
            rule.warrantyMonths > 0 ? `${rule.warrantyMonths} months of warranty from shipping` : '',
          ];
    return `${parts.filter((part) => part !== '').join('; ')}.`;
  });

  constructor() {
    effect(() => {
      const id = this.itemId();
      untracked(() => {
        this.changing.set(false);
        this.problem.set(null);
        this.news.set('');
        this.cost.begin({ unitCost: '' });
        this.ask(this.client.call(api.stores.trackingRule, { params: { id } }), {
          next: (rule) => {
            this.rule.set(rule);
            if (this.entry.waiting()) this.open();
          },
          error: (error: unknown) => this.problem.set(problemOf(error)),
        });
      });
    });
  }

  protected open(): void {
    this.entry.begin(draftOf(this.rule() ?? UNSAID));
    this.changing.set(true);
  }

  protected close(): void {
    this.entry.settle();
    this.changing.set(false);
  }

  protected save(): void {
    const body = bodyOf(this.draft(), this.rule());
    this.entry.send(this.client.call(api.stores.setTrackingRule, { params: { id: this.itemId() }, body }), (rule) => {
      this.rule.set(rule);
      this.close();
    });
  }

  protected revalue(): void {
    const body = { ...this.standard(), seen: this.item().standardCost };
    this.cost.send(this.client.call(api.stores.setStandardCost, { params: { id: this.itemId() }, body }), ({ number, change, unitCost }) => {
      this.news.set(`${number}: the standard is ${this.currency.behind(unitCost)} now, stock is worth ${this.currency.behind(change)} more.`);
      this.cost.begin({ unitCost: '' });
      this.changed.emit();
    });
  }
}
