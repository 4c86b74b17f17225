/** A transfer: what is asked for, shipping it, receiving what arrived, giving up what did not. */
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal, untracked } from '@angular/core';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { signalStore } from '@ngrx/signals';
import { api, type PieceInput, type TransferView } from '@terrace/contract';
import { Choices } from '../client/choices';
import { focusActions } from '../shell/focus.state';
import { sessionFeature } from '../client/session.state';
import { DocumentHead } from '../ui/document-head';
import { NumberField } from '../ui/fields';
import { GroupedPipe, LongDayPipe } from '../ui/format';
import { PiecesField } from '../ui/pieces-field';
import { withRecord } from '../ui/record.store';
import { Refused } from '../ui/refusal';
import { draftOf } from '../ui/draft-of-record';

const TransferStore = signalStore(withRecord<TransferView>(api.stores.getTransfer, 'transfer'));

@Component({
  selector: 't-transfer-panel',
  imports: [DocumentHead, RouterLink, NumberField, PiecesField, Refused, GroupedPipe, LongDayPipe],
  providers: [TransferStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (store.record(); as transfer) {
      <div class="page">
        <t-document-head
          kind="transfer"
          [id]="transfer.id"
          [number]="transfer.number"
          [state]="transfer.state"
          [news]="store.news()"
        ></t-document-head>
        <dl class="facts">
          <div>
            <dt>From</dt>
            <dd>{{ transfer.from }}</dd>
          </div>
          <div>
            <dt>To</dt>
            <dd>{{ transfer.to }}</dd>
          </div>
          <div>
            <dt>{{ transfer.state === 'requested' ? 'To ship on' : 'Shipped' }}</dt>
            <dd>{{ transfer.shipDate | longDay }}</dd>
          </div>
          <div>
            <dt>Due</dt>
            <dd>{{ transfer.dueDate | longDay }}</dd>
          </div>
          @if (transfer.carrier !== '') {
            <div>
              <dt>By</dt>
              <dd>{{ transfer.carrier }}</dd>
            </div>
          }
        </dl>
        <t-refusal [problem]="store.problem()" (again)="store.reload()" />
        @if (mayAct()) {
          <div class="acts">
            @switch (stage()) {
              @case ('ship') {
                <button type="button" class="act first" [disabled]="store.busy()" (click)="ship()">
                  Ship {{ transfer.number }} to {{ transfer.to }}
                </button>
                <button type="button" class="act" [disabled]="store.busy()" (click)="cancel()">Cancel it</button>
              }
              @case ('receive') {
                <button type="button" class="act first" [disabled]="store.busy()" (click)="receive()">Receive what is typed</button>
                <label class="field"
                  ><span>What is missing</span
                  ><select #why class="box" aria-label="What happens to what is missing" (change)="reason.set(why.value)">
                    <option value="">stays on the way</option>
                    @for (each of choices.all().reasons; track each.code) {
                      <option [value]="each.code" [selected]="each.code === reason()">given up: {{ each.name }}</option>
                    }
                  </select></label
                >
                @if (reason() !== '') {
                  <label class="field"><span>Note</span><input #text class="box" [value]="note()" (input)="note.set(text.value)" /></label>
                }
              }
            }
            <a class="act" [href]="'/api/papers/transfer/' + transfer.id" target="_blank">{{
              stage() === 'ship' ? 'Pick list (PDF)' : 'Paper (PDF)'
            }}</a>
          </div>
        }
        <section class="pane">
          <h2>Lines</h2>
          <table class="sheet">
            <thead>
              <tr>
                <th>Item</th>
                <th class="figure">Asked for</th>
                @if (transfer.state === 'requested') {
                  <th>In</th>
                  <th class="figure">Reserved</th>
                } @else {
                  <th class="figure">Shipped</th>
                  <th class="figure">Received</th>
                  <th class="figure">Lost</th>
                }
                @if (stage() !== '' && mayAct()) {
                  <th class="figure">{{ stage() === 'ship' ? 'Ship now' : 'Has arrived' }}</th>
                }
              </tr>
            </thead>
            <tbody>
              @for (line of transfer.lines; track line.id) {
                <tr (mouseenter)="point(line.itemId)">
                  <td>
                    <a class="code" [routerLink]="['/catalogue/items', line.itemId]">{{ line.code }}</a>
                    <div class="quiet">{{ line.description }}</div>
                  </td>
                  <td class="figure">
                    {{ line.quantity | grouped }} <span class="quiet">{{ line.unit }}</span>
                  </td>
                  @if (transfer.state === 'requested') {
                    <td class="code">{{ line.bin }}</td>
                    <td class="figure">{{ line.reserved | grouped }}</td>
                  } @else {
                    <td class="figure">{{ line.shipped | grouped }}</td>
                    <td class="figure">{{ line.received | grouped }}</td>
                    <td class="figure" [class.trouble]="line.lost !== '0'">{{ line.lost | grouped }}</td>
                  }
                  @if (stage() !== '' && mayAct()) {
                    <td style="width: 110px">
                      <t-number
                        [label]="'Now of ' + line.code"
                        [value]="typed()[line.id] ?? ''"
                        (valueChange)="type(line.id, $event)"
                        [quiet]="true"
                      />
                    </td>
                  }
                </tr>
                @if (line.tracking !== 'none' && stage() !== '' && mayAct()) {
                  <tr>
                    <td colspan="6">
                      <t-pieces
                        [tracking]="line.tracking"
                        [itemId]="line.itemId"
                        [name]="line.code"
                        [quantity]="typed()[line.id] ?? ''"
                        [proposed]="line.pieces"
                        [pieces]="pieces()[line.id] ?? []"
                        (piecesChange)="name(line.id, $event)"
                      />
                    </td>
                  </tr>
                }
              }
            </tbody>
          </table>
        </section>
        @if (transfer.note !== '') {
          <p class="quiet">{{ transfer.note }}</p>
        }
      </div>
    } @else if (store.problem()) {
      <div class="page"><t-refusal [problem]="store.problem()" /></div>
    }
  `,
})
export class TransferPanel {
  readonly id = input.required<number>();
  protected readonly store = inject(TransferStore);
  private readonly ngrx = inject(Store);
  protected readonly choices = inject(Choices);
  private readonly rights = this.ngrx.selectSignal(sessionFeature.selectRights);
  protected readonly mayAct = computed(() => this.rights().has('stores.adjust'));
  protected readonly stage = computed((): 'ship' | 'receive' | '' => {
    const state = this.store.record()?.state;
    return state === 'requested' ? 'ship' : state === 'shipped' || state === 'partReceived' ? 'receive' : '';
  });
  protected readonly typed = draftOf(this.store.record, (transfer): Readonly<Record<number, string>> =>
    Object.fromEntries((transfer?.lines ?? []).map((line) => [line.id, transfer?.state === 'requested' ? line.reserved : line.onTheWay])),
  );
  protected readonly pieces = draftOf(this.store.record, (): Readonly<Record<number, readonly PieceInput[]>> => ({}));
  protected readonly reason = signal('');
  protected readonly note = signal('');

  constructor() {
    effect(() => {
      const id = this.id();
      untracked(() => this.store.load(id));
    });
    effect(() => {
      const [first] = this.store.record()?.lines ?? [];
      if (first) untracked(() => this.point(first.itemId));
    });
  }

  protected point(itemId: number): void {
    this.ngrx.dispatch(focusActions.point({ itemId, warehouseId: this.store.record()?.fromId ?? null }));
  }

  protected type(lineId: number, quantity: string): void {
    this.typed.update((typed) => ({ ...typed, [lineId]: quantity }));
  }

  protected name(lineId: number, pieces: readonly PieceInput[]): void {
    this.pieces.update((all) => ({ ...all, [lineId]: pieces }));
  }

  private lines(): { lineId: number; quantity: string; pieces?: PieceInput[] }[] {
    return (this.store.record()?.lines ?? []).map((line) => {
      const pieces = this.pieces()[line.id] ?? [];
      return { lineId: line.id, quantity: this.typed()[line.id] || '0', ...(pieces.length > 0 ? { pieces: [...pieces] } : {}) };
    });
  }

  private get version(): number {
    return this.store.record()?.version ?? 0;
  }

  protected ship(): void {
    this.store.perform(api.stores.shipTransfer, { params: { id: this.id() }, body: { version: this.version, lines: this.lines() } });
  }

  protected receive(): void {
    this.store.perform(
      api.stores.receiveTransfer,
      {
        params: { id: this.id() },
        body: { version: this.version, lines: this.lines(), note: this.note(), ...(this.reason() === '' ? {} : { reason: this.reason() }) },
      },
      () => {
        this.reason.set('');
        this.note.set('');
      },
    );
  }

  protected cancel(): void {
    this.store.perform(api.stores.cancelTransfer, { params: { id: this.id() }, body: { version: this.version } });
  }
}
