/**
 * Lines of a document, entered by keyboard: Enter goes on from field to field and opens the next line; rows pasted from
 * a spreadsheet (item, quantity, price) become lines.
 */
import { ChangeDetectionStrategy, Component, ElementRef, computed, inject, input, model, output, signal, viewChildren } from '@angular/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { firstValueFrom } from 'rxjs';
import { api, type ItemChoice } from '@terrace/contract';
import { QUANTITY_SCALE, asPrice, extend, parsePrice, parseQuantity, readDecimal, toScale, writeAmount } from '@terrace/core';
import { ApiClient } from '../client/api-client';
import { DateField, NumberField } from './fields';
import { grouped, shortDay } from './format';
import { ItemField } from './item-field';
import { readTypedNumber } from './number-and-date-input';
import { Sheet } from './sheet';

export interface EntryLine {
  /** Of a line that is kept already. */
  readonly id?: number;
  readonly item: ItemChoice | null;
  readonly quantity: string;
  readonly price: string;
  readonly discount: string;
  readonly date: string;
  /** Whether the price was typed; else it is the lists' and follows customer and quantity. */
  readonly typed?: boolean;
  /** Why more than the ceiling is given away. */
  readonly reason?: string;
}

export const EMPTY_LINE: EntryLine = { item: null, quantity: '', price: '', discount: '0', date: '' };

const MOST_NAMED = 4;
const NOTHING = { mantissa: 0n, scale: 0 };

/** Amount of a line as typed so far; empty where it can't be told yet. */
export function amountOf(line: EntryLine): string {
  if (!line.item || !readDecimal(line.quantity) || !readDecimal(line.price)) return '';
  try {
    const discount = readDecimal(line.discount || '0');
    const points = discount ? Number(discount.mantissa) * 10 ** (2 - Math.min(2, discount.scale)) : 0;
    return writeAmount(extend(parseQuantity(line.quantity, 5), asPrice(parsePrice(line.price)), points));
  } catch {
    // A figure that the server will refuse has no amount yet.
    return '';
  }
}

/** A quantity in the pack that the item is usually bought or sold in: "= 10 case", or what such a pack holds. */
export function packWords({ item, quantity }: Pick<EntryLine, 'item' | 'quantity'>, buying: boolean): string {
  const code = buying ? item?.buyUnit : item?.sellUnit;
  const pack = item?.packs.find((each) => each.code === code);
  if (!pack) return '';
  const scaled = (text: string): bigint => toScale(readDecimal(text) ?? NOTHING, QUANTITY_SCALE) ?? 0n;
  const [typed, factor] = [scaled(quantity), scaled(pack.factor)];
  if (typed === 0n || factor === 0n || typed % factor !== 0n) return `${pack.code} of ${pack.factor}`;
  return `= ${typed / factor} ${pack.code}`;
}

/** The barcode of a pack says how many: one pack, where no quantity was typed. */
export function scannedQuantity(item: ItemChoice, quantity: string): Partial<EntryLine> {
  const pack = item.packs.find((each) => each.code === item.scanned);
  return pack && quantity === '' ? { quantity: pack.factor } : {};
}

@Component({
  selector: 't-line-entry',
  imports: [Sheet, NzButtonModule, ItemField, NumberField, DateField],
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
            </td>
            <td class="number">
              <t-number
                [value]="line.quantity"
                (valueChange)="set(index, { quantity: $event })"
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
                [value]="line.price"
                (valueChange)="set(index, { price: $event, typed: $event !== '' })"
                [label]="'Price of line ' + (index + 1)"
                [refused]="refused()['lines.' + index + '.price']"
                (keydown.enter)="next($event)"
              />
            </td>
            @if (!buying()) {
              <td class="number small">
                <t-number
                  [value]="line.discount"
                  (valueChange)="set(index, { discount: $event })"
                  [label]="'Discount of line ' + (index + 1)"
                  [refused]="refused()['lines.' + index + '.discount']"
                  (keydown.enter)="next($event)"
                />
              </td>
            } @else {
              <td class="date">
                <t-date
                  [value]="line.date"
                  (valueChange)="set(index, { date: $event })"
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
    .together {
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
  readonly lines = model.required<readonly EntryLine[]>();
  readonly refused = input<Readonly<Record<string, string>>>({});
  readonly buying = input(false);
  readonly pointed = output<number>();
  private readonly client = inject(ApiClient);
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);
  private readonly items = viewChildren(ItemField);
  protected readonly at = signal(-1);
  protected readonly hint = signal('Rows of item, quantity and price can be pasted from a spreadsheet.');
  protected readonly packed = computed(() => this.lines().map((line) => packWords(line, this.buying())));
  protected readonly amounts = computed(() => this.lines().map((line) => grouped(amountOf(line))));

  /** Puts the cursor into the first line that has no item, opening one where there is none. */
  start(): void {
    const free = this.lines().findIndex((line) => !line.item);
    if (free < 0) this.add();
    else this.focusItem(free);
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

  protected set(index: number, change: Partial<EntryLine>): void {
    this.lines.update((lines) => lines.map((line, each) => (each === index ? { ...line, ...change } : line)));
    if (change.quantity !== undefined || change.discount !== undefined) this.pointed.emit(index);
  }

  protected remove(index: number): void {
    this.lines.update((lines) => lines.filter((_, each) => each !== index));
  }

  protected add(): void {
    const last = this.lines().at(-1);
    this.lines.update((lines) => [...lines, { ...EMPTY_LINE, date: last?.date ?? '' }]);
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
    return [...this.host.nativeElement.querySelectorAll<HTMLInputElement>('tbody input')];
  }

  private focusItem(index: number): void {
    this.items()[index]?.focus();
  }

  private focusAfter(field: ItemField | undefined): void {
    if (!field) return;
    const row = this.items().indexOf(field);
    const rows = this.host.nativeElement.querySelectorAll('tbody tr');
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
      const [item] = await firstValueFrom(this.client.call(api.catalogue.findItems, { query: { text: code } }));
      if (!item) {
        unknown.push(code);
        continue;
      }
      const figure = (typed: string, other: string): string => {
        const read = readTypedNumber(typed, item.packs);
        return 'text' in read && read.text !== '' ? read.text : other;
      };
      lines.push({
        ...EMPTY_LINE,
        item,
        quantity: figure(quantity, quantity),
        price: figure(price ?? '', ''),
        typed: (price ?? '').trim() !== '',
        date: this.lines().at(-1)?.date ?? '',
      });
    }
    this.lines.update((known) => [...known.filter((line) => line.item), ...lines]);
    this.hint.set(
      unknown.length === 0 ? `${lines.length} rows pasted.` : `${lines.length} rows pasted; not known: ${unknown.slice(0, MOST_NAMED).join(', ')}.`,
    );
  }
}
