/** Places: the bins of a warehouse in the order in which they are walked by; beside, the warehouse itself and what is done to chosen bins. */
import { ChangeDetectionStrategy, Component, computed, effect, inject, signal, untracked } from '@angular/core';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type BinView, type BodyIn, type PlacesView } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { Choices } from '../client/choices';
import { whenHeard } from '../client/heard';
import { sessionFeature } from '../client/session.state';
import { Beside } from '../ui/beside';
import { CheckField } from '../ui/check-field';
import { Control, Leaving, disabled, entryOf } from '../ui/forms';
import { Grid } from '../ui/grid';
import type { GridColumn, GridRow } from '../ui/grid-cells';
import { Labelled } from '../ui/labelled';
import { OneOfField } from '../ui/one-of';
import { Refused } from '../ui/refusal';
import { SelectField, SelectOption } from '../ui/select-field';
import { TextArea, TextField } from '../ui/text-field';

const NEW = -1;
const NO_WAREHOUSE = { code: '', name: '', address: '', calendar: 'STD', dock: 'DOCK', active: true };
const NO_BINS = { codes: '', size: '' };
type Warehouse = PlacesView['warehouses'][number];
type BinChange = Omit<BodyIn<typeof api.setup.changeBins>, 'bins'>;

function stateOf({ active, blocked, dock }: BinView): string {
  if (!active) return 'closed';
  if (blocked) return 'blocked';
  return dock ? 'dock' : '';
}

@Component({
  imports: [Beside, CheckField, Control, Grid, Labelled, NzButtonModule, OneOfField, Refused, SelectField, SelectOption, TextArea, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './places.page.html',
  styleUrls: ['./setup.less', './places.page.less'],
})
export class PlacesPage {
  private readonly client = inject(ApiClient);
  private readonly leaving = inject(Leaving);
  protected readonly choices = inject(Choices);
  private readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly may = computed(() => this.rights().has('setup.edit'));
  protected readonly NEW = NEW;
  protected readonly warehouses = signal<readonly Warehouse[]>([]);
  protected readonly bins = signal<readonly BinView[]>([]);
  protected readonly chosen = signal(0);
  /** Bins that are chosen in the list, in its order. */
  protected readonly marked = signal<readonly BinView[]>([]);
  protected readonly problem = signal<Problem | null>(null);
  protected readonly news = signal('');
  protected readonly warehouse = computed(() => this.warehouses().find(({ id }) => id === this.chosen()) ?? null);
  protected readonly ways = computed(() => [
    ...this.warehouses().map(({ id, code, active }) => ({ value: String(id), words: active ? code : `${code}, closed` })),
    ...(this.may() ? [{ value: String(NEW), words: 'Add one' }] : []),
  ]);
  protected readonly rows = computed(() => this.bins().map((each) => ({ ...each, state: stateOf(each) })));
  protected readonly columns: readonly GridColumn[] = [
    { field: 'walk', title: 'Walk', kind: 'count', width: 70 },
    { field: 'code', title: 'Bin', kind: 'code', width: 110 },
    { field: 'size', title: 'Size', kind: 'text', width: 100 },
    { field: 'items', title: 'Items', kind: 'count', width: 76 },
    { field: 'state', title: 'Now', kind: 'text' },
  ];

  private readonly draft = signal(NO_WAREHOUSE);
  protected readonly entry = entryOf({
    part: () => `warehouse ${this.chosen()}`,
    draft: this.draft,
    route: () => (this.chosen() === 0 || !this.may() ? null : api.setup.addWarehouse),
    shape: (path) => disabled(path, () => !this.may()),
  });
  private readonly adding = signal(NO_BINS);
  protected readonly more = entryOf({
    part: () => `bins ${this.chosen()}`,
    draft: this.adding,
    route: () => (this.chosen() > 0 ? api.setup.addBins : null),
  });
  /** What chosen bins are changed to; a field that is empty changes nothing. */
  private readonly changing = signal({ size: '', walk: '', code: '' });
  protected readonly change = entryOf({ part: () => `change ${this.chosen()}`, draft: this.changing, keeps: false });

  constructor() {
    this.load();
    whenHeard(
      () => ['setup', 'stock'],
      () => this.load(),
    );
    effect(() => {
      const id = this.chosen();
      untracked(() => this.show(id));
    });
  }

  private load(): void {
    this.client.call(api.setup.places).subscribe({
      next: ({ warehouses }) => {
        this.warehouses.set(warehouses);
        if (this.chosen() === 0) this.chosen.set(warehouses.find(({ id }) => id === this.choices.warehouseId())?.id ?? warehouses[0]?.id ?? NEW);
        else if (this.warehouse()) this.entry.onto(this.fresh());
        this.loadBins();
      },
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }

  private loadBins(): void {
    const id = this.chosen();
    if (id <= 0) return;
    this.client.call(api.setup.bins, { params: { id } }).subscribe({
      next: ({ bins }) => this.take(bins),
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }

  private take(bins: readonly BinView[]): void {
    this.bins.set(bins);
    const marked = new Set(this.marked().map(({ id }) => id));
    this.marked.set(bins.filter(({ id }) => marked.has(id)));
  }

  private fresh(): typeof NO_WAREHOUSE {
    const found = this.warehouse();
    if (!found) return { ...NO_WAREHOUSE, calendar: this.choices.all().calendars[0]?.code ?? 'STD' };
    const { code, name, address, calendar, active } = found;
    return { code, name, address, calendar, active, dock: 'DOCK' };
  }

  private show(id: number): void {
    this.news.set('');
    this.marked.set([]);
    this.bins.set([]);
    if (id === 0) return;
    this.entry.begin(this.fresh());
    this.more.begin(NO_BINS);
    this.change.begin({ size: '', walk: '', code: '' });
    this.loadBins();
  }

  protected async choose(id: number): Promise<void> {
    if (id !== this.chosen() && (await this.leaving.ask())) this.chosen.set(id);
  }

  protected mark(rows: readonly GridRow[]): void {
    const ids = new Set(rows.map(({ id }) => Number(id)));
    this.marked.set(this.bins().filter(({ id }) => ids.has(id)));
    const [one] = this.marked();
    this.change.begin({ size: '', walk: '', code: this.marked().length === 1 ? (one?.code ?? '') : '' });
  }

  protected turn(active: boolean): void {
    this.draft.update((draft) => ({ ...draft, active }));
  }

  protected save(): void {
    const { active, dock, ...fields } = this.draft();
    const known = this.warehouse();
    if (known) {
      const call = this.client.call(api.setup.changeWarehouse, { params: { id: known.id }, body: { ...fields, active, version: known.version } });
      this.entry.send(call, ({ warehouses }) => {
        this.warehouses.set(warehouses);
        this.choices.refresh();
        this.entry.begin(this.fresh());
        this.news.set('Kept.');
      });
      return;
    }
    this.entry.send(this.client.call(api.setup.addWarehouse, { body: { ...fields, dock } }), ({ warehouses, id }) => {
      this.warehouses.set(warehouses);
      this.choices.refresh();
      this.chosen.set(id);
    });
  }

  protected addBins(): void {
    this.more.send(this.client.call(api.setup.addBins, { params: { id: this.chosen() }, body: this.adding() }), ({ bins, added }) => {
      this.take(bins);
      this.choices.refresh();
      this.more.begin(NO_BINS);
      this.news.set(added === 1 ? 'One bin was added.' : `${added} bins were added.`);
    });
  }

  /** Changes the chosen bins. */
  protected set(change: BinChange, done: string): void {
    const bins = this.marked().map(({ id }) => id);
    this.change.send(
      this.client.call(api.setup.changeBins, { params: { id: this.chosen() }, body: { ...change, bins } }),
      (answer) => {
        this.take(answer.bins);
        this.choices.refresh();
        this.news.set(done);
      },
      'part',
    );
  }

  protected keepChange(): void {
    const { size, walk } = this.changing();
    this.set({ ...(size === '' ? {} : { size }), ...(walk === '' ? {} : { walkFrom: Number(walk) }) }, 'Kept.');
  }

  /** Renames the one bin that is chosen, or makes it the dock. */
  protected rename(dock: boolean): void {
    const [one] = this.marked();
    if (!one) return;
    const body = { code: this.changing().code, dock: dock || one.dock };
    this.change.send(
      this.client.call(api.setup.changeBin, { params: { id: this.chosen(), bin: one.id }, body }),
      ({ bins }) => {
        this.take(bins);
        this.choices.refresh();
        this.news.set(body.code === one.code ? 'Kept.' : 'Kept. Print its label anew.');
      },
      'part',
    );
  }

  protected labels(): string {
    const marked = this.marked();
    const only = marked.length > 0 ? `?only=${marked.map(({ id }) => id).join(',')}` : '';
    return `/api/papers/labels/bins/${this.chosen()}${only}`;
  }
}
