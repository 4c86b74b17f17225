/** An order that came as a file: what it says, what we take it for, and what is in the way, mended where it stands. */
import { ChangeDetectionStrategy, Component, computed, inject, input, numberAttribute } from '@angular/core';
import { RouterLink } from '@angular/router';
import { signalStore } from '@ngrx/signals';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type BodyIn, type IncomingView } from '@terrace/contract';
import { Choices } from '../client/choices';
import { sessionFeature } from '../client/session.state';
import type { Act } from '../ui/acts';
import { ChoiceField } from '../ui/choice-field';
import { DocumentFrame, showRecord, type Fact } from '../ui/document';
import { NumberField } from '../ui/fields';
import { GroupedPipe, longDay, moment } from '../ui/format';
import { ItemField } from '../ui/item-field';
import { Labelled } from '../ui/labelled';
import { withRecord } from '../ui/record.store';
import { Sheet } from '../ui/sheet';

const IncomingStore = signalStore(withRecord<IncomingView>(api.incoming.getIncoming, 'incomingOrder'));
type Line = IncomingView['lines'][number];
type Mend = Omit<NonNullable<BodyIn<typeof api.incoming.mendIncoming>>, 'version'>;

@Component({
  selector: 't-incoming-panel',
  imports: [ChoiceField, DocumentFrame, GroupedPipe, ItemField, Labelled, NumberField, NzButtonModule, RouterLink, Sheet],
  providers: [IncomingStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-document kind="incomingOrder" [store]="store" [state]="store.record()?.state ?? ''" [facts]="facts()" [acts]="acts()" [wide]="wide()">
      @if (store.record(); as came) {
        @for (each of came.problems; track each.problem) {
          <p class="trouble">{{ each.words }}</p>
        }
        @if (came.state === 'waiting' && may()) {
          <t-field name="It is from">
            <t-choice label="Customer" [choices]="choices.all().customers" [value]="came.customerId ?? 0" (valueChange)="whose(came, $event)" />
          </t-field>
          @if (has(came, 'cameBefore')) {
            <div class="acts">
              <button nz-button type="button" class="act small" [disabled]="store.busy()" (click)="mend({ again: true })">It is another order</button>
            </div>
          }
        }
        <section class="pane">
          <h2>Lines</h2>
          <t-sheet>
            <thead>
              <tr>
                <th>They say</th>
                <th>We take it for</th>
                <th class="figure">Quantity</th>
                <th class="figure">Price</th>
              </tr>
            </thead>
            <tbody>
              @for (line of came.lines; track line.id) {
                <tr [class.bad]="line.problems.length > 0">
                  <td>
                    <span class="code">{{ line.said.theirCode || line.said.ourCode || line.said.barcode }}</span>
                    <div class="quiet">{{ line.said.description }}</div>
                    <div class="quiet">
                      {{ line.said.quantity }} {{ line.said.unit
                      }}{{ line.said.price === '' ? '' : ' at ' + line.said.price + (line.said.per ? ' for ' + line.said.per : '') }}
                    </div>
                    @for (each of line.problems; track each.problem) {
                      <div class="trouble">{{ each.words }}</div>
                    }
                  </td>
                  <td>
                    @if (line.itemId !== null) {
                      <a class="code" [routerLink]="['/catalogue/items', line.itemId]">{{ line.code }}</a>
                      <div class="quiet">{{ line.itemDescription }}</div>
                    } @else if (came.state === 'waiting' && may()) {
                      <t-item-field
                        [label]="'Item of line ' + line.id"
                        [customer]="came.customerId ?? 0"
                        (taken)="mend({ lines: [{ id: line.id, itemId: $event.id }] })"
                      />
                    }
                  </td>
                  <td class="figure number">
                    @if (wrongQuantity(line) && came.state === 'waiting' && may()) {
                      <t-number [label]="'How many of line ' + line.id" [value]="line.quantity" (settled)="quantity(line, $event)" />
                    } @else {
                      {{ line.quantity | grouped }} <span class="quiet">{{ line.baseUnit }}</span>
                    }
                  </td>
                  <td class="figure">
                    @if (priceOpen(line) && may()) {
                      <div class="prices">
                        <button
                          nz-button
                          type="button"
                          class="act small"
                          [hidden]="line.price === ''"
                          [disabled]="store.busy()"
                          (click)="price(line, 'theirs')"
                        >
                          {{ line.price | grouped }} theirs
                        </button>
                        <button nz-button type="button" class="act small" [disabled]="store.busy()" (click)="price(line, 'ours')">
                          {{ line.ourPrice | grouped }} ours
                        </button>
                      </div>
                    } @else {
                      {{ line.price | grouped }}
                    }
                  </td>
                </tr>
              }
            </tbody>
          </t-sheet>
        </section>
      }
    </t-document>
  `,
  styles: `
    .number {
      min-width: 110px;
    }
    .prices {
      display: grid;
      gap: 4px;
      justify-items: end;
    }
  `,
})
export class IncomingPanel {
  readonly id = input.required({ transform: numberAttribute });
  readonly wide = input(false);
  protected readonly store = inject(IncomingStore);
  protected readonly choices = inject(Choices);
  private readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly may = computed(() => this.rights().has('selling.edit'));
  protected readonly open = computed(() => {
    const came = this.store.record();
    return (came?.problems.length ?? 0) + (came?.lines ?? []).reduce((sum, line) => sum + line.problems.length, 0);
  });
  protected readonly facts = computed((): readonly Fact[] => {
    const came = this.store.record();
    if (!came) return [];
    return [
      { title: 'From', value: came.buyer },
      { title: 'Customer', value: came.customer, page: ['/catalogue/customers', came.customerId ?? 0] },
      { title: 'Their number', value: came.reference, kind: 'code' },
      { title: 'Wanted on', value: longDay(came.requiredDate) },
      { title: 'Goes to', value: came.shipTo },
      { title: 'File', value: came.fileName, below: moment(came.at) },
      { title: 'Order', value: came.order, kind: 'code', page: ['/selling/orders', came.orderId ?? 0] },
      { title: 'Laid aside', value: came.why },
    ];
  });
  protected readonly acts = computed((): readonly Act[] => {
    const came = this.store.record();
    if (came?.state !== 'waiting' || !this.may()) return [];
    const { id, version } = came;
    return [
      {
        words: this.open() === 0 ? 'Make it an order' : `${this.open()} to mend first`,
        first: true,
        disabled: this.open() > 0,
        act: () => this.store.perform(api.incoming.takeIncoming, { params: { id }, body: { version } }),
      },
      {
        words: 'Lay it aside …',
        asks: {
          heading: `Lay ${came.number} aside`,
          consequences: 'It becomes no order, and stays here to be looked up.',
          action: 'Lay it aside',
          reasonWanted: true,
        },
        act: (why) => this.store.perform(api.incoming.dropIncoming, { params: { id }, body: { version, why } }),
      },
    ];
  });

  constructor() {
    showRecord(this.id, this.store);
  }

  protected has({ problems }: IncomingView, problem: IncomingView['problems'][number]['problem']): boolean {
    return problems.some((each) => each.problem === problem);
  }

  protected wrongQuantity({ problems, itemId }: Line): boolean {
    return itemId !== null && problems.some(({ problem }) => problem === 'unit' || problem === 'quantity');
  }

  protected priceOpen({ problems }: Line): boolean {
    return problems.some(({ problem }) => problem === 'price');
  }

  protected whose({ customerId }: IncomingView, chosen: number): void {
    if (chosen !== 0 && chosen !== customerId) this.mend({ customerId: chosen });
  }

  protected quantity({ id, quantity }: Line, typed: string): void {
    if (typed.trim() !== '' && typed !== quantity) this.mend({ lines: [{ id, quantity: typed.trim() }] });
  }

  protected price({ id }: Line, price: 'theirs' | 'ours'): void {
    this.mend({ lines: [{ id, price }] });
  }

  protected mend(change: Mend): void {
    const came = this.store.record();
    if (came) this.store.perform(api.incoming.mendIncoming, { params: { id: came.id }, body: { version: came.version, ...change } });
  }
}
