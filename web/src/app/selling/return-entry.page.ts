/** Agreeing that a customer sends something back: what left with an order, lot by lot and number by number. */
import { ChangeDetectionStrategy, Component, computed, inject, input, numberAttribute, signal, effect, untracked } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type BodyIn, type Returnable } from '@terrace/contract';
import { QUANTITY_SCALE, parseQuantity, subtractQuantity, writeQuantity } from '@terrace/core';
import { ApiClient, problemOf } from '../client/api-client';
import { lastAsked } from '../client/last-asked';
import { CheckField } from '../ui/check-field';
import { Empty } from '../ui/empty';
import { NumberField } from '../ui/fields';
import { GroupedPipe, ShortDayPipe } from '../ui/format';
import { Control, entryOf } from '../ui/forms';
import { useKeys } from '../ui/keys';
import { Labelled } from '../ui/labelled';
import { Leave } from '../ui/leave';
import { Refused } from '../ui/refusal';
import { Sheet } from '../ui/sheet';
import { TextField } from '../ui/text-field';

interface Draft {
  readonly reason: string;
  /** By the piece's key. */
  readonly quantities: Readonly<Record<string, string>>;
}

const keyOf = ({ shipmentLineId, lot, serial }: Returnable): string => `${shipmentLineId}/${lot}/${serial}`;

@Component({
  imports: [
    CheckField,
    Control,
    Empty,
    GroupedPipe,
    Labelled,
    Leave,
    NumberField,
    NzButtonModule,
    Refused,
    RouterLink,
    Sheet,
    ShortDayPipe,
    TextField,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <h1>Something comes back</h1>
      <t-refusal [problem]="entry.problem()" />
      @if (pieces(); as all) {
        @if (all.length > 0) {
          <div class="header">
            <t-field class="wide" name="Why it comes back"><t-text label="Why it comes back" [formField]="entry.fields.reason" /></t-field>
          </div>
          <t-sheet>
            <thead>
              <tr>
                <th>Item</th>
                <th>Lot, serial number</th>
                <th>Left with</th>
                <th class="figure">Still with them</th>
                <th class="figure">Comes back</th>
              </tr>
            </thead>
            <tbody>
              @for (piece of all; track key(piece)) {
                <tr>
                  <td>
                    <a class="code" [routerLink]="['/catalogue/items', piece.itemId]">{{ piece.code }}</a>
                    <div class="quiet">{{ piece.description }}</div>
                  </td>
                  <td class="code">{{ piece.lot }} {{ piece.serial }}</td>
                  <td>
                    <a class="code" [routerLink]="['/dispatch/shipments', piece.shipmentId]">{{ piece.shipment }}</a>
                    <span class="quiet"> {{ piece.shippedOn | shortDay }}</span>
                  </td>
                  <td class="figure">
                    {{ left(piece) | grouped }} <span class="quiet">{{ piece.unit }}</span>
                  </td>
                  <td class="number">
                    @if (left(piece) !== '0') {
                      @if (piece.serial !== '') {
                        <t-check
                          [label]="piece.serial + ' comes back'"
                          [checked]="draft().quantities[key(piece)] === '1'"
                          (checkedChange)="set(piece, $event ? '1' : '')"
                        />
                      } @else {
                        <t-number
                          [label]="'How many ' + piece.code"
                          [value]="draft().quantities[key(piece)] ?? ''"
                          [refused]="refused()[key(piece)]"
                          (valueChange)="set(piece, $event)"
                        />
                      }
                    } @else {
                      <span class="quiet">on a return</span>
                    }
                  </td>
                </tr>
              }
            </tbody>
          </t-sheet>
          <div class="acts">
            <button nz-button type="button" class="act first" [disabled]="entry.busy()" (click)="save()">Agree on it <kbd>Ctrl+Enter</kbd></button>
          </div>
        } @else {
          <t-empty words="Nothing of this order has left: there is nothing that could come back." />
        }
      }
    </div>
    <t-leave [entry]="entry" />
  `,
  styleUrl: '../ui/entry.less',
  styles: '.number { width: 140px; }',
})
export class ReturnEntryPage {
  /** The order that it left with. */
  readonly id = input.required({ transform: numberAttribute });
  private readonly client = inject(ApiClient);
  private readonly router = inject(Router);
  private readonly ask = lastAsked();
  protected readonly pieces = signal<readonly Returnable[] | null>(null);
  protected readonly draft = signal<Draft>({ reason: '', quantities: {} });
  protected readonly entry = entryOf({ draft: this.draft, route: () => api.returns.authorise, body: () => this.body() });
  protected readonly key = keyOf;
  private readonly chosen = computed(() => (this.pieces() ?? []).filter((piece) => (this.draft().quantities[keyOf(piece)] ?? '').trim() !== ''));
  protected readonly refused = computed(() =>
    Object.fromEntries(this.chosen().map((piece, at) => [keyOf(piece), this.entry.refused()[`lines.${at}.quantity`]])),
  );

  constructor() {
    effect(() => {
      const id = this.id();
      untracked(() =>
        this.ask(this.client.call(api.returns.returnable, { params: { id } }), {
          next: (pieces) => this.pieces.set(pieces),
          error: (error: unknown) => this.entry.refuse(problemOf(error)),
        }),
      );
    });
    useKeys([{ key: 'Ctrl+Enter', words: 'Agree on the return', act: () => this.save() }]);
  }

  protected left({ shipped, returning }: Returnable): string {
    return writeQuantity(subtractQuantity(parseQuantity(shipped, QUANTITY_SCALE), parseQuantity(returning, QUANTITY_SCALE)));
  }

  protected set(piece: Returnable, quantity: string): void {
    this.draft.update((draft) => ({ ...draft, quantities: { ...draft.quantities, [keyOf(piece)]: quantity } }));
  }

  private body(): BodyIn<typeof api.returns.authorise> {
    const { reason, quantities } = this.draft();
    return {
      orderId: this.id(),
      reason,
      lines: this.chosen().map((piece) => ({
        shipmentLineId: piece.shipmentLineId,
        lot: piece.lot,
        serial: piece.serial,
        quantity: (quantities[keyOf(piece)] ?? '').trim(),
      })),
    };
  }

  protected save(): void {
    (document.activeElement as HTMLElement | null)?.blur();
    this.entry.send(this.client.call(api.returns.authorise, { body: this.body() }), (made) => {
      void this.router.navigateByUrl(`/selling/returns/${made.id}`);
    });
  }
}
