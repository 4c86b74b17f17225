/** An adjustment: what it changed, why, on which account; its slip; taking it back. */
import { ChangeDetectionStrategy, Component, effect, inject, input, signal, untracked } from '@angular/core';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { signalStore } from '@ngrx/signals';
import { api, type AdjustmentView } from '@terrace/contract';
import { sessionFeature } from '../client/session.state';
import { DocumentHead } from '../ui/document-head';
import { Confirm } from '../ui/confirm';
import { GroupedPipe, LongDayPipe } from '../ui/format';
import { withRecord } from '../ui/record.store';
import { Refused } from '../ui/refusal';
import { InCurrencyPipe } from '../ui/money';

const AdjustmentStore = signalStore(withRecord<AdjustmentView>(api.stores.getAdjustment, 'adjustment'));

@Component({
  selector: 't-adjustment-panel',
  imports: [InCurrencyPipe, DocumentHead, RouterLink, Confirm, Refused, GroupedPipe, LongDayPipe],
  providers: [AdjustmentStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (store.record(); as adjustment) {
      <div class="page">
        <t-document-head
          kind="adjustment"
          [id]="adjustment.id"
          [number]="adjustment.number"
          [state]="adjustment.reversed ? 'reversed' : ''"
          [news]="store.news()"
        />
        <dl class="facts">
          <div>
            <dt>Reason</dt>
            <dd>{{ adjustment.reason }}</dd>
          </div>
          <div>
            <dt>Account</dt>
            <dd>{{ adjustment.account }}</dd>
          </div>
          <div>
            <dt>Date</dt>
            <dd>{{ adjustment.date | longDay }}</dd>
          </div>
          <div>
            <dt>In</dt>
            <dd>{{ adjustment.warehouse }}</dd>
          </div>
          <div>
            <dt>By</dt>
            <dd>{{ adjustment.who }}</dd>
          </div>
          <div>
            <dt>Worth</dt>
            <dd class="code">{{ adjustment.value | grouped | inCurrency }}</dd>
          </div>
        </dl>
        @if (adjustment.note !== '') {
          <p>{{ adjustment.note }}</p>
        }
        <t-refusal [problem]="store.problem()" />
        <div class="acts">
          <a class="act" [href]="'/api/papers/adjustment/' + adjustment.id" target="_blank">Slip (PDF)</a>
          @if (!adjustment.reversed && rights().has('stores.adjust')) {
            <button type="button" class="act" [disabled]="store.busy()" (click)="asking.set(true)">Take back</button>
          }
        </div>
        <section class="pane">
          <h2>Lines</h2>
          <table class="sheet">
            <thead>
              <tr>
                <th>Item</th>
                <th>Bin</th>
                <th>Lot or number</th>
                <th class="figure">Change</th>
                <th class="figure">{{ '' | inCurrency }}</th>
              </tr>
            </thead>
            <tbody>
              @for (line of adjustment.lines; track $index) {
                <tr>
                  <td>
                    <a class="code" [routerLink]="['/catalogue/items', line.itemId]">{{ line.code }}</a>
                    <div class="quiet">{{ line.description }}</div>
                  </td>
                  <td class="code">{{ line.bin }}</td>
                  <td class="code">{{ line.serial || line.lot }}</td>
                  <td class="figure">
                    {{ line.change | grouped }} <span class="quiet">{{ line.unit }}</span>
                  </td>
                  <td class="figure">{{ line.value | grouped }}</td>
                </tr>
              }
            </tbody>
          </table>
        </section>
      </div>
      @if (asking()) {
        <t-confirm
          [heading]="'Take ' + adjustment.number + ' back'"
          consequences="Contrary moves are posted today, at today’s cost. It is refused where what it brought is used or reserved."
          action="Take it back"
          (agreed)="takeBack()"
          (dropped)="asking.set(false)"
        />
      }
    } @else if (store.problem()) {
      <div class="page"><t-refusal [problem]="store.problem()" /></div>
    }
  `,
})
export class AdjustmentPanel {
  readonly id = input.required<number>();
  protected readonly store = inject(AdjustmentStore);
  protected readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly asking = signal(false);

  constructor() {
    effect(() => {
      const id = this.id();
      untracked(() => this.store.load(id));
    });
  }

  protected takeBack(): void {
    this.asking.set(false);
    this.store.perform(api.stores.reverseAdjustment, { params: { id: this.id() } });
  }
}
