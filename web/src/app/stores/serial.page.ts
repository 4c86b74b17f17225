/** One serial number: where it came from, what is in it, where it is or went, warranty and service contract. */
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal, untracked } from '@angular/core';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { signalStore } from '@ngrx/signals';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type BodyIn, type SerialView } from '@terrace/contract';
import { focusActions } from '../shell/focus.state';
import { sessionFeature } from '../client/session.state';
import { DateField } from '../ui/fields';
import { pageOf } from '../ui/documents';
import { GroupedPipe, LongDayPipe } from '../ui/format';
import { Control, disabled, entryOf, overRecord } from '../ui/forms';
import { Labelled } from '../ui/labelled';
import { Leave } from '../ui/leave';
import { withRecord } from '../ui/record.store';
import { Refused } from '../ui/refusal';
import { State } from '../ui/state';
import { StoresNav } from './stores-nav';
import { InCurrencyPipe } from '../ui/money';
import { TextField } from '../ui/text-field';
import { Sheet } from '../ui/sheet';

const SerialStore = signalStore(withRecord<SerialView>(api.stores.getSerial, 'serialNumber'));

type SerialDraft = Readonly<Record<'warrantyUntil' | 'contractUntil' | 'contract' | 'note', string>>;

@Component({
  imports: [
    Control,
    Labelled,
    Leave,
    Sheet,
    NzButtonModule,
    TextField,
    InCurrencyPipe,
    RouterLink,
    DateField,
    Refused,
    State,
    StoresNav,
    GroupedPipe,
    LongDayPipe,
  ],
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
              <t-field name="Warranty until"><t-date label="Warranty until" [formField]="entry.fields.warrantyUntil" /></t-field>
              <t-field name="Service until"><t-date label="Service until" [formField]="entry.fields.contractUntil" /></t-field>
            </div>
            <t-field name="Service contract"><t-text [formField]="entry.fields.contract" /></t-field>
            <t-field name="Note"><t-text [formField]="entry.fields.note" /></t-field>
            @if (entry.typed()) {
              <button nz-button type="button" class="act first" [disabled]="store.busy()" (click)="keep()">Keep the changes</button>
            }
          </section>
        </div>
      </div>
    } @else if (store.problem()) {
      <div class="page"><t-refusal [problem]="store.problem()" /></div>
    }
    <t-leave [entry]="entry" />
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
  private readonly draft = signal<SerialDraft>({ warrantyUntil: '', contractUntil: '', contract: '', note: '' });
  protected readonly entry = entryOf({
    part: () => 'serial number',
    draft: this.draft,
    problem: this.store.problem,
    route: () => api.stores.changeSerial,
    body: (draft) => this.bodyOf(draft),
    shape: (path) => disabled(path, () => !this.mayChange()),
  });

  constructor() {
    effect(() => {
      const id = Number(this.id());
      untracked(() => this.store.load(id));
    });
    overRecord(this.entry, this.store.record, ({ warrantyUntil, contractUntil, contract, note }) => ({
      warrantyUntil: warrantyUntil ?? '',
      contractUntil: contractUntil ?? '',
      contract,
      note,
    }));
    effect(() => {
      const piece = this.store.record();
      if (piece) untracked(() => this.ngrx.dispatch(focusActions.point({ itemId: piece.itemId, warehouseId: null })));
    });
  }

  private bodyOf({ warrantyUntil, contractUntil, ...draft }: SerialDraft): BodyIn<typeof api.stores.changeSerial> {
    return { ...draft, version: this.store.record()?.version ?? 0, warrantyUntil: warrantyUntil || null, contractUntil: contractUntil || null };
  }

  protected keep(): void {
    const call = { params: { id: Number(this.id()) }, body: this.bodyOf(this.draft()) };
    this.store.perform(api.stores.changeSerial, call, () => this.entry.settle());
  }
}
