/**
 * Lines of a document, entered by keyboard: Enter goes on from field to field and opens the next line; rows pasted from
 * a spreadsheet (item, quantity, price) become lines.
 */
import { ChangeDetectionStrategy, Component, ElementRef, computed, inject, input, output, signal, viewChildren } from '@angular/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { firstValueFrom } from 'rxjs';
import { api, type ItemChoice } from '@terrace/contract';
import { ApiClient } from '../client/api-client';
import { DateField, NumberField } from './fields';
import { Control, type FieldTree } from './forms';
import { grouped, shortDay } from './format';
import { ItemField } from './item-field';
import { LineMore } from './line-more';
import { readTypedNumber } from './number-and-date-input';
import { Sheet } from './sheet';
import type { Address } from './ship-to';
import { amountOf, freshLine, packWords, detailWords, scannedQuantity, type EntryLine } from './entry-line';

const MOST_NAMED = 4;

@Component({
  selector: 't-line-entry',
  imports: [Control, DateField, ItemField, LineMore, NumberField, NzButtonModule, Sheet],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-sheet (paste)="paste($event)">
      <thead>
        <tr>
          <th>#</th>
          <th>Item</th>
          <th>Description</th>
          <th class="figure">Quantity</th>
          <th>Unit</th>
          <th class="figure">Price</th>
          @if (!buying()) {
            <th class="figure">Discount %</th>
          } @else {
            <th>Due</th>
          }
          <th class="figure">Amount</th>
          <th><span class="sr">Remove</span></th>
        </tr>
      </thead>
      <tbody>
        @for (line of lines(); track $index; let index = $index) {
          <tr [class.chosen]="index === at()" (focusin)="point(index)">
            <td class="quiet">{{ index + 1 }}</td>
            <td class="item">
              <t-item-field
                [code]="line.item?.code ?? ''"
                [label]="'Item of line ' + (index + 1)"
                [refused]="refused()['lines.' + index + '.itemId']"
                [customer]="customer()"
                (taken)="take(index, $event)"
                (keydown.enter)="next($event)"
              />
            </td>
            <td class="words">
              {{ line.item?.description }}
              @if (!buying() && line.date !== '') {
                <div>
                  on {{ day(line.date) }}
                  <button
                    nz-button
                    type="button"
                    class="act plain small together"
                    [attr.aria-label]="'Want line ' + (index + 1) + ' with the order'"
                    (click)="set(index, { date: '' })"
                  >
                    with the order
                  </button>
                </div>
              }
              @if (!buying() && line.item) {
                <div class="quiet">
                  {{ more(line) }}
                  <button
                    nz-button
                    type="button"
                    class="act plain small together"
                    tabindex="-1"
                    [attr.aria-expanded]="open() === index"
                    [attr.aria-label]="'More of line ' + (index + 1)"
                    (click)="unfold(index)"
                  >
                    {{ open() === index ? 'less' : 'more …' }}
                  </button>
                </div>
              }
            </td>
            <td class="number">
              <t-number
                [formField]="fieldsOf(index).quantity"
                (valueChange)="pointed.emit(index)"
                [packs]="line.item?.packs ?? []"
                [label]="'Quantity of line ' + (index + 1)"
                [refused]="refused()['lines.' + index + '.quantity']"
                (keydown.enter)="next($event)"
              />
            </td>
            <td class="quiet">
              {{ line.item?.unit }}
              @if (packed()[index]; as pack) {
                <div>{{ pack }}</div>
              }
            </td>
            <td class="number">
              <t-number
                [formField]="fieldsOf(index).price"
                (valueChange)="set(index, { price: $event, typed: $event !== '' })"
                [label]="'Price of line ' + (index + 1)"
                [refused]="refused()['lines.' + index + '.price']"
                (keydown.enter)="next($event)"
              />
            </td>
            @if (!buying()) {
              <td class="number small">
                <t-number
                  [formField]="fieldsOf(index).discount"
                  (valueChange)="pointed.emit(index)"
                  [label]="'Discount of line ' + (index + 1)"
                  [refused]="refused()['lines.' + index + '.discount']"
                  (keydown.enter)="next($event)"
                />
              </td>
            } @else {
              <td class="date">
                <t-date
                  [formField]="fieldsOf(index).date"
                  [label]="'Due date of line ' + (index + 1)"
                  [refused]="refused()['lines.' + index + '.dueDate']"
                  (keydown.enter)="next($event)"
                />
              </td>
            }
            <td class="figure">{{ amounts()[index] }}</td>
            <td>
              <button
                nz-button
                type="button"
                class="act plain small"
                tabindex="-1"
                [attr.aria-label]="'Remove line ' + (index + 1)"
                (click)="remove(index)"
              >
                ✕
              </button>
            </td>
          </tr>
          @if (open() === index) {
            <tr class="details" (focusin)="point(index)">
              <td></td>
              <td [attr.colspan]="7">
                <t-line-more
                  [form]="fieldsOf(index)"
                  [number]="index + 1"
                  [refused]="refused()"
                  [addresses]="addresses()"
                  (shipTo)="set(index, { shipTo: $event })"
                />
              </td>
              <td></td>
            </tr>
          }
        }
      </tbody>
    </t-sheet>
    <div class="acts">
      <button nz-button type="button" class="act small" (click)="add()">Add a line</button><span class="quiet">{{ hint() }}</span>
    </div>
  `,
  styles: `
    :host {
      display: grid;
      gap: 8px;
    }
    td {
      padding: 3px 4px;
      vertical-align: top;
    }
    td.quiet,
    td.words,
    td.figure {
      padding-top: 9px;
    }
    button.act.small.together {
      padding: 0;
    }
    .item {
      width: 190px;
    }
    .number {
      width: 110px;
    }
    .small {
      width: 80px;
    }
    .date {
      width: 120px;
    }
  `,
})
export class LineEntry {
  protected readonly day = shortDay;
  /** The lines as a part of what is entered; each figure is a field of it. */
  readonly form = input.required<FieldTree<readonly EntryLine[]>>();
  protected readonly lines = computed(() => this.form()().value());
  readonly refused = input<Readonly<Record<string, string>>>({});
  readonly buying = input(false);
  /** Where the customer can have it shipped to. */
  readonly addresses = input<readonly Address[]>([]);
  /** The customer by whose own numbers items may be called. */
  readonly customer = input(0);
  readonly pointed = output<number>();
  private readonly client = inject(ApiClient);
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);
  private readonly items = viewChildren(ItemField);
  protected readonly at = signal(-1);
  /** The line that says more beneath it. */
  protected readonly open = signal(-1);
  protected readonly more = detailWords;
  protected readonly hint = signal('Rows of item, quantity and price can be pasted from a spreadsheet.');
  protected readonly packed = computed(() => this.lines().map((line) => packWords(line, this.buying())));
  protected readonly amounts = computed(() => this.lines().map((line) => grouped(amountOf(line))));

  /** Puts the cursor into the first line that has no item, opening one where there is none. */
  start(): void {
    const free = this.lines().findIndex((line) => !line.item);
    if (free < 0) this.add();
    else this.focusItem(free);
  }

  /** Opens what a line says more, or closes it; with the line in hand where none is named. */
  unfold(index = this.at()): void {
    if (!this.lines()[index]?.item) return;
    const opens = this.open() !== index;
    this.open.set(opens ? index : -1);
    setTimeout(() => {
      if (opens) this.host.nativeElement.querySelector<HTMLInputElement>('.details input')?.focus();
      else this.focusAfter(this.items()[index]);
    });
  }

  /** Takes an item as one more line, and goes to its quantity. */
  addItem(line: Partial<EntryLine>): void {
    const last = this.lines().at(-1);
    const fresh = freshLine({ date: last?.date ?? '', ...line });
    this.change((lines) => [...lines.filter((each) => each.item || each.quantity !== ''), fresh]);
    const index = this.lines().length - 1;
    this.point(index);
    setTimeout(() => this.focusAfter(this.items()[index]));
  }

  protected point(index: number): void {
    this.at.set(index);
    this.pointed.emit(index);
  }

  protected take(index: number, item: ItemChoice): void {
    const changed = this.lines()[index]?.item?.id !== item.id;
    this.set(index, changed ? { item, price: '', typed: false, ...scannedQuantity(item, this.lines()[index]?.quantity ?? '') } : { item });
    this.pointed.emit(index);
    setTimeout(() => this.focusAfter(this.items()[index]));
  }

  /** The fields of a line. */
  protected fieldsOf(index: number): FieldTree<EntryLine> {
    return (this.form() as unknown as Readonly<Record<number, FieldTree<EntryLine>>>)[index] as FieldTree<EntryLine>;
  }

  private change(change: (lines: readonly EntryLine[]) => readonly EntryLine[]): void {
    this.form()().value.update(change);
  }

  protected set(index: number, change: Partial<EntryLine>): void {
    this.change((lines) => lines.map((line, each) => (each === index ? { ...line, ...change } : line)));
  }

  protected remove(index: number): void {
    this.open.set(-1);
    this.change((lines) => lines.filter((_, each) => each !== index));
  }

  protected add(): void {
    const last = this.lines().at(-1);
    this.change((lines) => [...lines, freshLine({ date: last?.date ?? '' })]);
    setTimeout(() => this.focusItem(this.lines().length - 1));
  }

  /** Enter goes on to the next field, and from the last one to a new line. */
  protected next(event: Event): void {
    event.preventDefault();
    const fields = this.fields();
    const index = fields.indexOf(event.target as HTMLInputElement);
    const following = fields[index + 1];
    if (following) following.focus();
    else if (this.lines().at(-1)?.item) this.add();
  }

  private fields(): HTMLInputElement[] {
    return [...this.host.nativeElement.querySelectorAll<HTMLInputElement>('tbody tr:not(.details) input')];
  }

  private focusItem(index: number): void {
    this.items()[index]?.focus();
  }

  private focusAfter(field: ItemField | undefined): void {
    if (!field) return;
    const row = this.items().indexOf(field);
    const rows = this.host.nativeElement.querySelectorAll('tbody tr:not(.details)');
    rows[row]?.querySelectorAll<HTMLInputElement>('input')[1]?.focus();
  }

  protected async paste(event: ClipboardEvent): Promise<void> {
    const text = event.clipboardData?.getData('text/plain') ?? '';
    if (!text.includes('\t') && !text.trim().includes('\n')) return;
    event.preventDefault();
    const rows = text
      .split(/\r?\n/)
      .filter((row) => row.trim() !== '')
      .map((row) => row.split('\t'));
    const unknown: string[] = [];
    const lines: EntryLine[] = [];
    for (const [code = '', quantity = '', price] of rows) {
      const [item] = await firstValueFrom(
        this.client.call(api.catalogue.findItems, { query: { text: code, ...(this.customer() > 0 ? { customer: this.customer() } : {}) } }),
      );
      if (!item) {
        unknown.push(code);
        continue;
      }
      const figure = (typed: string, other: string): string => {
        const read = readTypedNumber(typed, item.packs);
        return 'text' in read && read.text !== '' ? read.text : other;
      };
      lines.push(
        freshLine({
          item,
          quantity: figure(quantity, quantity),
          price: figure(price ?? '', ''),
          typed: (price ?? '').trim() !== '',
          date: this.lines().at(-1)?.date ?? '',
        }),
      );
    }
    this.change((known) => [...known.filter((line) => line.item), ...lines]);
    this.hint.set(
      unknown.length === 0 ? `${lines.length} rows pasted.` : `${lines.length} rows pasted; not known: ${unknown.slice(0, MOST_NAMED).join(', ')}.`,
    );
  }
}
