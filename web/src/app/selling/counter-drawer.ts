/** The cash drawer: opened with what is in it, closed with what was counted. */
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, output, signal, untracked } from '@angular/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type DrawerView } from '@terrace/contract';
import { writeAmount } from '@terrace/core';
import { ApiClient } from '../client/api-client';
import { NumberField } from '../ui/fields';
import { GroupedPipe } from '../ui/format';
import { Control, entryOf } from '../ui/forms';
import { Labelled } from '../ui/labelled';
import { InCurrencyPipe } from '../ui/money';
import { Refused } from '../ui/refusal';
import { TextField } from '../ui/text-field';
import { typedAmount } from '../ui/typed-amount';

@Component({
  selector: 't-counter-drawer',
  imports: [Control, GroupedPipe, InCurrencyPipe, Labelled, NumberField, NzButtonModule, Refused, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <form class="pane" (submit)="$event.preventDefault(); drawer() ? close() : open()">
      @if (drawer(); as now) {
        <h2>Close {{ now.number }}</h2>
        <p>
          Began with {{ now.float | grouped }}, {{ now.sales }} {{ now.sales === 1 ? 'sale' : 'sales' }} in cash: there should be
          <b>{{ now.expected | grouped | inCurrency }}</b> in it.
        </p>
        <div class="fields">
          <t-field [name]="'Counted' | inCurrency"><t-number label="Counted" [formField]="entry.fields.counted" /></t-field>
          <t-field name="Stays in it"><t-number label="Stays in it" [formField]="entry.fields.left" /></t-field>
          <t-field name="Note"><t-text [formField]="entry.fields.note" /></t-field>
        </div>
        @if (draft().counted.trim() !== '') {
          <p role="status" [class.trouble]="difference() !== '0.00'">
            {{
              difference() === '0.00'
                ? 'As it should be.'
                : difference().startsWith('-')
                  ? difference().slice(1) + ' too little.'
                  : difference() + ' too much.'
            }}
          </p>
        }
      } @else {
        <h2>The drawer is closed</h2>
        <p class="quiet">Count what is in it before the first cash comes. The last one was left with {{ left() | grouped | inCurrency }}.</p>
        <t-field [name]="'In it now' | inCurrency"><t-number label="In it now" [formField]="entry.fields.float" /></t-field>
      }
      <t-refusal [problem]="entry.problem()" />
      <div class="acts">
        <button nz-button class="act first" [disabled]="entry.busy()">{{ drawer() ? 'Close the drawer' : 'Open the drawer' }}</button>
        @if (drawer()) {
          <button nz-button type="button" class="act" (click)="done.emit()">Not now</button>
        }
      </div>
    </form>
  `,
  styleUrl: './quote-form.less',
})
export class CounterDrawer {
  readonly warehouseId = input.required<number>();
  readonly drawer = input.required<DrawerView | null>();
  /** What the last one was left with. */
  readonly left = input.required<string>();
  /** Something was done, or is not wanted. */
  readonly done = output();
  private readonly client = inject(ApiClient);
  protected readonly draft = signal({ float: '', counted: '', left: '', note: '' });
  protected readonly difference = computed(() => writeAmount(typedAmount(this.draft().counted) - typedAmount(this.drawer()?.expected ?? '0')));
  protected readonly entry = entryOf({
    part: () => 'drawer',
    draft: this.draft,
    route: () => (this.drawer() ? api.counter.closeDrawer : api.counter.openDrawer),
    body: ({ float, ...counted }) =>
      this.drawer() ? { ...counted, version: this.drawer()?.version ?? 0 } : { warehouseId: this.warehouseId(), float },
  });

  constructor() {
    effect(() => {
      const [drawer, left] = [this.drawer(), this.left()];
      untracked(() => this.entry.begin({ float: drawer ? '' : left, counted: '', left: drawer?.float ?? '', note: '' }));
    });
  }

  protected open(): void {
    const body = { warehouseId: this.warehouseId(), float: this.draft().float };
    this.entry.send(this.client.call(api.counter.openDrawer, { body }), () => this.done.emit());
  }

  protected close(): void {
    const drawer = this.drawer();
    if (!drawer) return;
    const { counted, left, note } = this.draft();
    const call = { params: { id: drawer.id }, body: { version: drawer.version, counted, left, note } };
    this.entry.send(this.client.call(api.counter.closeDrawer, call), () => this.done.emit());
  }
}
