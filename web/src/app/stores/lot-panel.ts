/** A lot: its life, where it is, blocking it everywhere at once, and where it leads. */
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal, untracked } from '@angular/core';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { signalStore } from '@ngrx/signals';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type BodyIn, type LotView } from '@terrace/contract';
import { focusActions } from '../shell/focus.state';
import { sessionFeature } from '../client/session.state';
import { Confirm } from '../ui/confirm';
import { DateField } from '../ui/fields';
import { GroupedPipe, LongDayPipe } from '../ui/format';
import { Control, entryOf, overRecord } from '../ui/forms';
import { Labelled } from '../ui/labelled';
import { withRecord } from '../ui/record.store';
import { Refused } from '../ui/refusal';
import { State } from '../ui/state';
import { TextField } from '../ui/text-field';
import { Sheet } from '../ui/sheet';

const LotStore = signalStore(withRecord<LotView>(api.stores.getLot, 'lot'));

type LotDraft = Readonly<Record<'madeOn' | 'expiry' | 'supplierLot' | 'note', string>>;

function asTyped({ madeOn, expiry, supplierLot, note }: LotView): LotDraft {
  return { madeOn: madeOn ?? '', expiry: expiry ?? '', supplierLot, note };
}

@Component({
  selector: 't-lot-panel',
  imports: [Control, Labelled, Sheet, NzButtonModule, TextField, RouterLink, Confirm, DateField, Refused, State, GroupedPipe, LongDayPipe],
  providers: [LotStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (store.record(); as lot) {
      <div class="page">
        <div class="acts">
          <h1>
            <a class="code" [routerLink]="['/stores/lots', lot.id]">{{ lot.lot }}</a>
          </h1>
          @if (lot.blocked) {
            <t-state state="blocked" />
          }
        </div>
        <p>
          <a class="code" [routerLink]="['/catalogue/items', lot.itemId]">{{ lot.item }}</a> {{ lot.description }}
        </p>
        <dl class="facts">
          <div>
            <dt>Made on</dt>
            <dd>{{ lot.madeOn ? (lot.madeOn | longDay) : 'not known' }}</dd>
          </div>
          <div>
            <dt>Expires</dt>
            <dd>{{ lot.expiry ? (lot.expiry | longDay) : 'never' }}</dd>
          </div>
          @if (lot.expiry) {
            <div>
              <dt>Remaining life</dt>
              <dd [class.trouble]="(lot.remaining ?? 0) < 30">{{ lot.remaining }} days</dd>
            </div>
            <div>
              <dt>Sold until</dt>
              <dd>{{ lot.sellUntil | longDay }}</dd>
            </div>
            <div>
              <dt>Used until</dt>
              <dd>{{ lot.useUntil | longDay }}</dd>
            </div>
          }
          @if (lot.supplier !== '') {
            <div>
              <dt>From</dt>
              <dd>{{ lot.supplier }}{{ lot.supplierLot ? ', their ' + lot.supplierLot : '' }}</dd>
            </div>
          }
        </dl>
        @if (lot.blocked) {
          <p class="trouble">▲ Blocked: {{ lot.blockReason }}</p>
        }
        @if (released() !== '') {
          <p>{{ released() }}</p>
        }
        <t-refusal [problem]="store.problem()" (again)="store.reload()" />
        <div class="acts">
          <a class="act first" [routerLink]="['/stores/trace', 'lot', lot.id]">Trace it both ways</a>
          @if (rights().has('stores.adjust')) {
            @if (lot.blocked) {
              <button nz-button type="button" class="act" [disabled]="store.busy()" (click)="asking.set('free')">Free it</button>
            } @else {
              <button nz-button type="button" class="act" [disabled]="store.busy()" (click)="asking.set('block')">Block it everywhere</button>
            }
            <button nz-button type="button" class="act" (click)="correcting() ? leave() : correcting.set(true)">Correct it</button>
          }
          <a class="act" [href]="'/api/papers/labels/lot/' + lot.id" target="_blank">Label (PDF)</a>
        </div>
        @if (correcting()) {
          <section class="pane">
            <div class="acts">
              <t-field name="Made on"><t-date label="Made on" [formField]="entry.fields.madeOn" /></t-field>
              <t-field name="Expires"><t-date label="Expires" [formField]="entry.fields.expiry" /></t-field>
              <t-field name="Their lot"><t-text [formField]="entry.fields.supplierLot" /></t-field>
              <t-field name="Note"><t-text [formField]="entry.fields.note" /></t-field>
              <button nz-button type="button" class="act first" [disabled]="store.busy()" (click)="correct()">Keep</button>
              <button nz-button type="button" class="act plain small" (click)="leave()">Leave it</button>
            </div>
          </section>
        } @else if (lot.note !== '') {
          <p class="quiet">{{ lot.note }}</p>
        }
        <section class="pane">
          <h2>Where it is</h2>
          <t-sheet>
            <tbody>
              @for (place of lot.places; track place.warehouse + place.bin + place.state) {
                <tr>
                  <td>{{ place.warehouse }}</td>
                  <td class="code">{{ place.bin }}</td>
                  <td><t-state [state]="place.state" /></td>
                  <td class="figure">
                    {{ place.quantity | grouped }} <span class="quiet">{{ lot.unit }}</span>
                  </td>
                </tr>
              } @empty {
                <tr>
                  <td class="quiet">All of it is used or gone. Trace it to see where.</td>
                </tr>
              }
            </tbody>
          </t-sheet>
        </section>
      </div>
      @if (asking(); as what) {
        <t-confirm
          [heading]="(what === 'block' ? 'Block lot ' : 'Free lot ') + lot.lot"
          [consequences]="
            what === 'block'
              ? 'All that is available of it is held, in every warehouse, and whatever of it comes in. What is reserved of it and can’t be covered otherwise is released; sales is told.'
              : 'What is held of it is available again in every warehouse.'
          "
          [action]="what === 'block' ? 'Block it' : 'Free it'"
          [reasonWanted]="true"
          (agreed)="agree($event)"
          (dropped)="asking.set(null)"
        />
      }
    } @else if (store.problem()) {
      <div class="page"><t-refusal [problem]="store.problem()" /></div>
    }
  `,
})
export class LotPanel {
  readonly id = input.required<number>();
  protected readonly store = inject(LotStore);
  private readonly ngrx = inject(Store);
  protected readonly rights = this.ngrx.selectSignal(sessionFeature.selectRights);
  protected readonly asking = signal<'block' | 'free' | null>(null);
  protected readonly correcting = signal(false);
  protected readonly released = signal('');
  private readonly version = computed(() => this.store.record()?.version ?? 0);
  private readonly draft = signal<LotDraft>({ madeOn: '', expiry: '', supplierLot: '', note: '' });
  protected readonly entry = entryOf({
    part: () => `lot ${this.store.record()?.id ?? 0}`,
    draft: this.draft,
    problem: () => (this.correcting() ? this.store.problem() : null),
    route: () => (this.correcting() ? api.stores.changeLot : null),
    body: (draft) => this.bodyOf(draft),
  });

  constructor() {
    effect(() => {
      const id = this.id();
      untracked(() => {
        this.released.set('');
        this.correcting.set(false);
        this.store.load(id);
      });
    });
    overRecord(this.entry, this.store.record, (lot) => {
      if (this.entry.waiting()) this.correcting.set(true);
      return asTyped(lot);
    });
    effect(() => {
      const lot = this.store.record();
      if (lot) untracked(() => this.ngrx.dispatch(focusActions.point({ itemId: lot.itemId, warehouseId: null })));
    });
  }

  protected agree(reason: string): void {
    const what = this.asking();
    this.asking.set(null);
    const call = { params: { id: this.id() }, body: { version: this.version(), reason } };
    if (what === 'free') this.store.perform(api.stores.freeLot, call);
    else
      this.store.perform(api.stores.blockLot, call, ({ released }) =>
        this.released.set(
          released.length === 0 ? '' : `Released: ${released.map((each) => `${each.quantity} of ${each.document}`).join(', ')}. Sales has been told.`,
        ),
      );
  }

  protected leave(): void {
    this.entry.drop();
    this.correcting.set(false);
  }

  private bodyOf({ madeOn, expiry, ...draft }: LotDraft): BodyIn<typeof api.stores.changeLot> {
    return { ...draft, version: this.version(), madeOn: madeOn || null, expiry: expiry || null };
  }

  protected correct(): void {
    this.store.perform(api.stores.changeLot, { params: { id: this.id() }, body: this.bodyOf(this.draft()) }, () => {
      this.entry.settle();
      this.correcting.set(false);
    });
  }
}
