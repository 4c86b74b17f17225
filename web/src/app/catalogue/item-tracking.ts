/** What an item asks of its lots or serial numbers, and its standard cost: shown and set here. */
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, linkedSignal, output, signal, untracked } from '@angular/core';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type AnswerOf, type ItemView } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { lastAsked } from '../client/last-asked';
import { sessionFeature } from '../client/session.state';
import { NumberField } from '../ui/fields';
import { Refused } from '../ui/refusal';
import { CompanyCurrency, InCurrencyPipe } from '../ui/money';
import { CheckField } from '../ui/check-field';
import { TextField } from '../ui/text-field';
import { Fold } from '../ui/fold';

type Rule = AnswerOf<typeof api.stores.trackingRule>;

@Component({
  selector: 't-item-tracking',
  imports: [Fold, NzButtonModule, CheckField, TextField, InCurrencyPipe, NumberField, Refused, RouterLink],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (item().tracking !== 'none' && rule(); as kept) {
      <t-fold class="pane" [heading]="item().tracking === 'lot' ? 'Lots' : 'Serial numbers'" kept="item.tracking" unfolded>
        @if (!changing()) {
          <p>{{ words() }}</p>
          <div class="acts">
            <a class="act small" [routerLink]="item().tracking === 'lot' ? '/stores/lots' : '/stores/serials'">See them</a>
            @if (editable()) {
              <button nz-button type="button" class="act small" (click)="changing.set(true)">Change</button>
            }
          </div>
        } @else {
          <div class="acts">
            @if (item().tracking === 'lot') {
              <t-check [checked]="draft().expiryNeeded" (checkedChange)="put({ expiryNeeded: $event })">expiry must be given</t-check>
              <t-check [checked]="draft().madeOnNeeded" (checkedChange)="put({ madeOnNeeded: $event })">made-on must be given</t-check>
              <label class="field" style="width: 130px"
                ><span>Days left to be used</span
                ><t-number
                  label="Days left to be used"
                  [value]="'' + draft().useLifeDays"
                  (valueChange)="put({ useLifeDays: +$event || 0 })"
                  [quiet]="true"
              /></label>
              <label class="field" style="width: 130px"
                ><span>Warn days before</span
                ><t-number
                  label="Warn days before expiry"
                  [value]="'' + draft().warnDays"
                  (valueChange)="put({ warnDays: +$event || 0 })"
                  [quiet]="true"
              /></label>
            } @else {
              <label class="field"
                ><span>Pattern of new numbers</span
                ><t-text
                  kind="code"
                  placeholder="LX{{ '{YY}' }}-{{ '{n:4}' }}{{ '{c}' }}"
                  [value]="draft().serialPattern"
                  (valueChange)="put({ serialPattern: $event })"
              /></label>
              <label class="field" style="width: 130px"
                ><span>Warranty, months</span
                ><t-number
                  label="Warranty, months"
                  [value]="'' + draft().warrantyMonths"
                  (valueChange)="put({ warrantyMonths: +$event || 0 })"
                  [quiet]="true"
              /></label>
            }
            <button nz-button type="button" class="act first small" [disabled]="busy()" (click)="save()">Keep</button>
            <button nz-button type="button" class="act small" (click)="drop()">Leave it</button>
          </div>
        }
        <t-refusal [problem]="problem()" />
      </t-fold>
    }
    @if (item().costing === 'standard') {
      <t-fold class="pane" heading="Standard cost" kept="item.cost" unfolded>
        <div class="acts">
          <b class="code">{{ item().standardCost | inCurrency }} each</b>
          @if (rights().has('accounts.invoice') && editable()) {
            <label class="field" style="width: 120px"
              ><span>New standard</span><t-number label="New standard cost" [(value)]="standard" [quiet]="true"
            /></label>
            <button nz-button type="button" class="act small" [disabled]="busy() || standard() === ''" (click)="revalue()">
              Set it: stock is revalued
            </button>
          }
        </div>
        @if (news() !== '') {
          <p>{{ news() }}</p>
        }
        <t-refusal [problem]="costProblem()" />
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
  protected readonly draft = linkedSignal(
    (): Rule =>
      this.rule() ?? { expiryNeeded: false, madeOnNeeded: false, useLifeDays: 0, warnDays: 0, serialPattern: '', warrantyMonths: 0, version: 0 },
  );
  protected readonly changing = signal(false);
  protected readonly busy = signal(false);
  protected readonly problem = signal<Problem | null>(null);
  protected readonly costProblem = signal<Problem | null>(null);
  protected readonly standard = signal('');
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
        this.drop();
        this.news.set('');
        this.standard.set('');
        this.ask(this.client.call(api.stores.trackingRule, { params: { id } }), {
          next: (rule) => this.rule.set(rule),
          error: (error: unknown) => this.problem.set(problemOf(error)),
        });
      });
    });
  }

  protected put(change: Partial<Rule>): void {
    this.draft.update((draft) => ({ ...draft, ...change }));
  }

  protected drop(): void {
    this.changing.set(false);
    this.problem.set(null);
    this.costProblem.set(null);
    const rule = this.rule();
    if (rule) this.draft.set(rule);
  }

  protected save(): void {
    this.busy.set(true);
    this.client.call(api.stores.setTrackingRule, { params: { id: this.itemId() }, body: this.draft() }).subscribe({
      next: (rule) => {
        this.rule.set(rule);
        this.busy.set(false);
        this.drop();
      },
      error: (error: unknown) => {
        this.busy.set(false);
        this.problem.set(problemOf(error));
      },
    });
  }

  protected revalue(): void {
    this.busy.set(true);
    const body = { unitCost: this.standard(), seen: this.item().standardCost };
    this.client.call(api.stores.setStandardCost, { params: { id: this.itemId() }, body }).subscribe({
      next: ({ number, change, unitCost }) => {
        this.busy.set(false);
        this.costProblem.set(null);
        this.news.set(`${number}: the standard is ${this.currency.behind(unitCost)} now, stock is worth ${this.currency.behind(change)} more.`);
        this.standard.set('');
        this.changed.emit();
      },
      error: (error: unknown) => {
        this.busy.set(false);
        this.costProblem.set(problemOf(error));
      },
    });
  }
}
