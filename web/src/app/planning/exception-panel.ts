/** An exception beside the list: what it would do to the balance, and whom the order serves that ought to change. */
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, output, signal, untracked } from '@angular/core';
import { RouterLink } from '@angular/router';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { map, of, type Observable } from 'rxjs';
import { api, type ExceptionRow, type ItemRecord, type PegView } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { lastAsked } from '../client/last-asked';
import { whenHeard } from '../client/heard';
import { DocumentOpener } from '../shell/open-document';
import { BalanceDrawing } from '../ui/balance-drawing';
import { ShortDayPipe } from '../ui/format';
import { Refused } from '../ui/refusal';
import { PegPicture } from './peg-picture';
import { stripOf } from './record-strip';

/** What speaks of a supply; the others are about demand, or about an item as a whole. */
const OF_SUPPLY = new Set(['bringForward', 'pushBack', 'cancel', 'overdueReceipt']);

@Component({
  selector: 't-exception-panel',
  imports: [NzButtonModule, RouterLink, ShortDayPipe, BalanceDrawing, PegPicture, Refused],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <t-refusal [problem]="problem()" (again)="load()" />
      <h1>{{ row().words }}</h1>
      <p>
        <a class="code" [routerLink]="['/catalogue/items', row().itemId]">{{ row().code }}</a> {{ row().description }} · {{ row().warehouse }}
      </p>
      @if (document()) {
        <div class="acts">
          <button nz-button type="button" class="act small" (click)="opener.open(row().subject)">Open {{ document() }}</button>
          @if (mayApply() && row().remedy !== '') {
            <button nz-button type="button" class="act small" (click)="apply.emit()">
              {{ row().kind === 'cancel' ? 'Cancel it …' : 'Move it to ' }}{{ row().kind === 'cancel' ? '' : (row().to | shortDay) + ' …' }}
            </button>
          }
        </div>
      }
      @if (strip(); as drawn) {
        <section class="pane">
          <h2>Balance, as the plan counts</h2>
          <t-balance-drawing [strip]="drawn" [height]="110" />
          <a class="act small" [routerLink]="['/planning/items', row().itemId, warehouseId()]">Item record and pegging</a>
        </section>
      }
      @if (served(); as pegs) {
        <section class="pane">
          <h2>Whom it serves</h2>
          <t-peg-picture [pegs]="pegs" />
        </section>
      }
    </div>
  `,
  styleUrl: './panel.less',
})
export class ExceptionPanel {
  readonly row = input.required<ExceptionRow>();
  readonly warehouseId = input.required<number>();
  readonly mayApply = input(false);
  readonly apply = output();
  protected readonly opener = inject(DocumentOpener);
  private readonly client = inject(ApiClient);
  protected readonly problem = signal<Problem | null>(null);
  private readonly record = signal<ItemRecord | null>(null);
  protected readonly served = signal<readonly PegView[] | null>(null);
  protected readonly strip = computed(() => {
    const record = this.record();
    return record && stripOf(record);
  });
  /** The number of the document that it is about; of a shortage or of stock that expires there is none. */
  protected readonly document = computed(() => (this.row().subject.includes('@') ? '' : (this.row().subject.split('/')[0] ?? '')));
  private readonly askRecord = lastAsked();
  private readonly askServed = lastAsked();

  constructor() {
    effect(() => {
      this.row();
      this.warehouseId();
      untracked(() => this.load());
    });
    whenHeard(
      () => ['plan'],
      () => this.load(),
    );
  }

  protected load(): void {
    const { itemId, kind, subject } = this.row();
    const warehouseId = this.warehouseId();
    const failed = (error: unknown): void => this.problem.set(problemOf(error));
    this.problem.set(null);
    if (warehouseId > 0)
      this.askRecord(this.client.call(api.planning.getRecord, { params: { itemId, warehouseId } }), {
        next: (record) => this.record.set(record),
        error: failed,
      });
    const none: Observable<readonly PegView[] | null> = of(null);
    const served = this.client.call(api.planning.getServed, { query: { kind: 'receipt', id: subject } }).pipe(map((answer) => answer.served));
    this.askServed(OF_SUPPLY.has(kind) ? served : none, { next: (pegs) => this.served.set(pegs), error: failed });
  }
}
