/** A production order: its components and whether they are there; release, finish as planned, take back. */
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal, untracked } from '@angular/core';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { signalStore } from '@ngrx/signals';
import { api, type PieceInput, type ProductionView } from '@terrace/contract';
import { focusActions } from '../shell/focus.state';
import { sessionFeature } from '../client/session.state';
import { DocumentHead } from '../ui/document-head';
import { Confirm } from '../ui/confirm';
import { NumberField } from '../ui/fields';
import { GroupedPipe, LongDayPipe } from '../ui/format';
import { PiecesField } from '../ui/pieces-field';
import { withRecord } from '../ui/record.store';
import { Refused } from '../ui/refusal';
import { draftOf } from '../ui/draft-of-record';
import { InCurrencyPipe } from '../ui/money';

const ProductionStore = signalStore(withRecord<ProductionView>(api.production.getProduction, 'productionOrder'));

@Component({
  selector: 't-production-panel',
  imports: [InCurrencyPipe, DocumentHead, Refused, Confirm, NumberField, PiecesField, RouterLink, GroupedPipe, LongDayPipe],
  providers: [ProductionStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './production-panel.html',
})
export class ProductionPanel {
  readonly id = input.required<number>();
  readonly wide = input(false);
  protected readonly store = inject(ProductionStore);
  private readonly ngrx = inject(Store);
  protected readonly rights = this.ngrx.selectSignal(sessionFeature.selectRights);
  readonly version = computed(() => this.store.record()?.version ?? 0);
  protected readonly quantity = draftOf(this.store.record, (order) => order?.outstanding ?? '');
  /** Lots or serial numbers of what is made, and of components where they are named. */
  protected readonly pieces = signal<readonly PieceInput[]>([]);
  protected readonly taken = signal<Readonly<Record<number, readonly PieceInput[]>>>({});
  protected readonly pieceProblem = computed(() => this.store.problem()?.of('pieces') ?? '');
  protected readonly asking = signal<'cancel' | number | null>(null);
  protected readonly short = computed(() => this.store.record()?.components.filter((each) => each.short !== '0') ?? []);
  protected readonly cancellable = computed(
    () => ['draft', 'released', 'running'].includes(this.store.record()?.state ?? '') && this.rights().has('production.edit'),
  );
  protected readonly finishable = computed(
    () => ['released', 'running'].includes(this.store.record()?.state ?? '') && this.rights().has('production.report'),
  );

  protected percent(share: string): string {
    return String(Math.round(Number(share) * 1000) / 10);
  }

  constructor() {
    effect(() => {
      const id = this.id();
      untracked(() => {
        this.pieces.set([]);
        this.taken.set({});
        this.store.load(id);
      });
    });
    effect(() => {
      const record = this.store.record();
      if (record) untracked(() => this.point(record.itemId));
    });
  }

  protected point(itemId: number): void {
    this.ngrx.dispatch(focusActions.point({ itemId, warehouseId: this.store.record()?.warehouseId ?? null }));
  }

  protected take(componentId: number, pieces: readonly PieceInput[]): void {
    this.taken.update((taken) => ({ ...taken, [componentId]: pieces }));
  }

  protected release(): void {
    this.store.perform(api.production.releaseProduction, { params: { id: this.id() }, body: { version: this.version() } });
  }

  protected finish(): void {
    const taken = Object.entries(this.taken())
      .filter(([, pieces]) => pieces.length > 0)
      .map(([componentId, pieces]) => ({ componentId: Number(componentId), pieces: [...pieces] }));
    this.store.perform(
      api.production.finishProduction,
      {
        params: { id: this.id() },
        body: {
          version: this.version(),
          quantity: this.quantity(),
          ...(this.pieces().length > 0 ? { pieces: [...this.pieces()] } : {}),
          ...(taken.length > 0 ? { taken } : {}),
        },
      },
      () => {
        this.pieces.set([]);
        this.taken.set({});
      },
    );
  }

  protected agree(reason: string): void {
    const asked = this.asking();
    this.asking.set(null);
    if (asked === 'cancel')
      this.store.perform(api.production.cancelProduction, { params: { id: this.id() }, body: { version: this.version(), reason } });
    else if (asked !== null) this.store.perform(api.production.reverseCompletion, { params: { id: asked } });
  }
}
