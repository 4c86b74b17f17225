/** One serial number: where it came from, what is in it, where it is or went, warranty and service contract. */
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, untracked } from '@angular/core';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { signalStore } from '@ngrx/signals';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type SerialView } from '@terrace/contract';
import { focusActions } from '../shell/focus.state';
import { sessionFeature } from '../client/session.state';
import { DateField } from '../ui/fields';
import { pageOf } from '../ui/documents';
import { GroupedPipe, LongDayPipe } from '../ui/format';
import { withRecord } from '../ui/record.store';
import { Refused } from '../ui/refusal';
import { State } from '../ui/state';
import { draftOf } from '../ui/draft-of-record';
import { StoresNav } from './stores-nav';
import { InCurrencyPipe } from '../ui/money';
import { TextField } from '../ui/text-field';
import { Sheet } from '../ui/sheet';

const SerialStore = signalStore(withRecord<SerialView>(api.stores.getSerial, 'serialNumber'));

@Component({
  imports: [Sheet, NzButtonModule, TextField, InCurrencyPipe, RouterLink, DateField, Refused, State, StoresNav, GroupedPipe, LongDayPipe],
  providers: [SerialStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-stores-nav />
    @if (store.record(); as piece) {
      <div class="page">
        <div class="acts">
          <h1 class="code">{{ piece.serial }}</h1>
          <t-state [state]="piece.state" />
        </div>
        <p>
          <a class="code" [routerLink]="['/catalogue/items', piece.itemId]">{{ piece.item }}</a> {{ piece.description }}
        </p>
        <dl class="facts">
          <div>
            <dt>Now</dt>
            <dd>{{ piece.place ? 'in ' + piece.place : piece.customer ? 'with ' + piece.customer : 'in no warehouse' }}</dd>
          </div>
          @if (piece.shippedOn) {
            <div>
              <dt>Left on</dt>
              <dd>{{ piece.shippedOn | longDay }}</dd>
            </div>
          }
          <div>
            <dt>{{ piece.supplier ? 'Bought from' : 'Made on' }}</dt>
            <dd>{{ piece.supplier || (piece.madeOn ? (piece.madeOn | longDay) : 'not known') }}</dd>
          </div>
          <div>
            <dt>Cost</dt>
            <dd class="code">{{ piece.cost ? (piece.cost | grouped | inCurrency) : 'not known' }}</dd>
          </div>
          @for (parent of piece.insideOf; track parent.id) {
            <div>
              <dt>Inside of</dt>
              <dd>
                <a class="code" [routerLink]="['/stores/serials', parent.id]">{{ parent.item }} {{ parent.serial }}</a>
              </dd>
            </div>
          }
        </dl>
        <t-refusal [problem]="store.problem()" (again)="store.reload()" />
        <div class="acts">
          <a class="act first" [routerLink]="['/stores/trace', 'serial', piece.id]">Trace it both ways</a>
          <a class="act" [href]="'/api/papers/labels/serial/' + piece.id" target="_blank">Label (PDF)</a>
        </div>
        <div class="halves">
          <section class="pane">
            <h2>Its life</h2>
            <t-sheet>
              <tbody>
                @for (move of piece.moves; track $index) {
                  <tr>
                    <td>{{ move.date | longDay }}</td>
                    <td>{{ move.from }} → {{ move.to }}</td>
                    <td>
                      @if (page(move.documentKind, move.documentId); as to) {
                        <a class="code" [routerLink]="to">{{ move.document }}</a>
                      } @else {
                        <span class="code">{{ move.document }}</span>
                      }
                    </td>
                    <td class="quiet">{{ move.who }}</td>
                  </tr>
                }
              </tbody>
            </t-sheet>
          </section>
          <section class="pane">
            <h2>What is in it</h2>
            <t-sheet>
              <tbody>
                @for (part of piece.components; track part.item + part.lot + part.serial) {
                  <tr>
                    <td>
                      <span class="code">{{ part.item }}</span>
                      <div class="quiet">{{ part.description }}</div>
                    </td>
                    <td class="code">
                      @if (part.pieceId && part.serial) {
                        <a [routerLink]="['/stores/serials', part.pieceId]">{{ part.serial }}</a>
                      } @else if (part.pieceId) {
                        <a [routerLink]="['/stores/lots', part.pieceId]">lot {{ part.lot }}</a>
                      }
                    </td>
                    <td class="figure">
                      {{ part.quantity | grouped }} <span class="quiet">{{ part.unit }}</span>
                    </td>
                  </tr>
                } @empty {
                  <tr>
                    <td class="quiet">It was bought as it is.</td>
                  </tr>
                }
              </tbody>
            </t-sheet>
          </section>
          <section class="pane">
            <h2>Warranty and service</h2>
            <div class="acts">
              <label class="field"
                ><span>Warranty until</span><t-date label="Warranty until" [(value)]="warranty" [disabled]="!mayChange()" [quiet]="true"
              /></label>
              <label class="field"
                ><span>Service until</span><t-date label="Service until" [(value)]="contractUntil" [disabled]="!mayChange()" [quiet]="true"
              /></label>
            </div>
            <label class="field"
              ><span>Service contract</span><t-text [disabled]="!mayChange()" [value]="contract()" (valueChange)="contract.set($event)"
            /></label>
            <label class="field"><span>Note</span><t-text [disabled]="!mayChange()" [value]="note()" (valueChange)="note.set($event)" /></label>
            @if (changed()) {
              <button nz-button type="button" class="act first" [disabled]="store.busy()" (click)="keep()">Keep the changes</button>
            }
          </section>
        </div>
      </div>
    } @else if (store.problem()) {
      <div class="page"><t-refusal [problem]="store.problem()" /></div>
    }
  `,
  styles: `
    .halves {
      display: grid;
      grid-template-columns: repeat(auto-fit, minmax(340px, 1fr));
      gap: 16px;
      align-items: start;
    }
    .pane {
      display: grid;
      gap: 8px;
    }
  `,
})
export class SerialPage {
  readonly id = input.required<string>();
  protected readonly store = inject(SerialStore);
  private readonly ngrx = inject(Store);
  private readonly rights = this.ngrx.selectSignal(sessionFeature.selectRights);
  protected readonly mayChange = computed(() => this.rights().has('stores.adjust'));
  protected readonly page = pageOf;
  protected readonly warranty = draftOf(this.store.record, (kept) => kept?.warrantyUntil ?? '');
  protected readonly contractUntil = draftOf(this.store.record, (kept) => kept?.contractUntil ?? '');
  protected readonly contract = draftOf(this.store.record, (kept) => kept?.contract ?? '');
  protected readonly note = draftOf(this.store.record, (kept) => kept?.note ?? '');
  protected readonly changed = computed(() => {
    const piece = this.store.record();
    return (
      piece !== null &&
      (this.warranty() !== (piece.warrantyUntil ?? '') ||
        this.contractUntil() !== (piece.contractUntil ?? '') ||
        this.contract() !== piece.contract ||
        this.note() !== piece.note)
    );
  });

  constructor() {
    effect(() => {
      const id = Number(this.id());
      untracked(() => this.store.load(id));
    });
    effect(() => {
      const piece = this.store.record();
      if (piece) untracked(() => this.ngrx.dispatch(focusActions.point({ itemId: piece.itemId, warehouseId: null })));
    });
  }

  protected keep(): void {
    this.store.perform(api.stores.changeSerial, {
      params: { id: Number(this.id()) },
      body: {
        version: this.store.record()?.version ?? 0,
        warrantyUntil: this.warranty() || null,
        contractUntil: this.contractUntil() || null,
        contract: this.contract(),
        note: this.note(),
      },
    });
  }
}
