/** Closing invoices with what is left of a payment or a credit note. */
import { ChangeDetectionStrategy, Component, effect, inject, input, output, signal, untracked } from '@angular/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type CustomerAccount } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { lastAsked } from '../client/last-asked';
import { Refused } from '../ui/refusal';
import { settleOf, spreadOver, type Settles } from './settle-draft';
import { SettleLines } from './settle-lines';

@Component({
  selector: 't-settle-form',
  imports: [NzButtonModule, Refused, SettleLines],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <form class="pane" (submit)="$event.preventDefault(); send()">
      <h2>Close invoices with it</h2>
      @if (account(); as all) {
        <t-settle-lines
          [open]="all.open"
          [currency]="all.currency"
          [available]="left()"
          [early]="early()"
          restWords="still left"
          [settles]="settles()"
          (settlesChange)="settles.set($event)"
        />
      }
      <t-refusal [problem]="problem()" />
      <div class="acts">
        <button nz-button class="act first" [disabled]="busy()">Close them</button>
        <button nz-button type="button" class="act" (click)="dropped.emit()">Not now</button>
      </div>
    </form>
  `,
})
export class SettleForm {
  readonly customerId = input.required<number>();
  /** What is left, above 0. */
  readonly left = input.required<string>();
  readonly early = input(true);
  readonly busy = input(false);
  readonly sent = output<{ invoiceId: number; amount: string; letOff: string }[]>();
  readonly dropped = output();
  private readonly client = inject(ApiClient);
  private readonly ask = lastAsked();
  protected readonly account = signal<CustomerAccount | null>(null);
  protected readonly settles = signal<Settles>({});
  protected readonly problem = signal<Problem | null>(null);

  constructor() {
    effect(() => {
      const id = this.customerId();
      untracked(() =>
        this.ask(this.client.call(api.accounts.customerAccount, { params: { id } }), {
          next: (account) => {
            this.account.set(account);
            this.settles.set(spreadOver(account.open, this.left(), this.early()));
          },
          error: (error: unknown) => this.problem.set(problemOf(error)),
        }),
      );
    });
  }

  protected send(): void {
    this.sent.emit(settleOf(this.account()?.open ?? [], this.settles()));
  }
}
