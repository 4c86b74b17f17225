/** Lots or serial numbers of one line: what comes in is named, what goes out is proposed first-expiring first. */
import { ChangeDetectionStrategy, Component, computed, forwardRef, inject, input, model } from '@angular/core';
import { NG_VALUE_ACCESSOR } from '@angular/forms';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type PieceInput, type PieceView } from '@terrace/contract';
import { Refusal, readElementString, readSerials, type Scanned } from '@terrace/core';
import { ApiClient } from '../client/api-client';
import { DateField } from './fields';
import { FormField } from './form-field';
import { shortDay } from './format';
import { TextArea, TextField } from './text-field';

/** A row of lots as it is being typed. */
interface TypedLot {
  readonly lot: string;
  readonly madeOn: string;
  readonly expiry: string;
  readonly quantity: string;
}

const EMPTY: TypedLot = { lot: '', madeOn: '', expiry: '', quantity: '' };

/** What a typed list of serial numbers comes to, or why it can't be read. */
export function countSerials(text: string): { readonly count: number; readonly wrong: string } {
  try {
    return { count: readSerials(text).length, wrong: '' };
  } catch (error) {
    if (error instanceof Refusal) return { count: 0, wrong: error.message };
    throw error;
  }
}

/** Takes a scanned element string apart where one was typed in; other text stays as it is. */
export function scannedPiece(text: string): Scanned | null {
  try {
    return readElementString(text);
  } catch (error) {
    if (error instanceof Refusal) return null;
    throw error;
  }
}

/** A typed row as a document names it; what was left empty is left out. */
function pieceOf({ lot, ...rest }: TypedLot): PieceInput {
  return { lot, ...Object.fromEntries(Object.entries(rest).filter(([, text]) => text !== '')) };
}

@Component({
  selector: 't-pieces',
  imports: [TextArea, TextField, NzButtonModule, DateField],
  providers: [{ provide: NG_VALUE_ACCESSOR, useExisting: forwardRef(() => PiecesField), multi: true }],
  host: { '(focusout)': 'left()' },
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (tracking() === 'serial') {
      <label class="field"
        ><span
          >Serial numbers of {{ name() }}:
          <b [class.trouble]="serials().wrong !== '' || !enough()">{{ serials().count }} of {{ quantity() || 0 }}</b></span
        >
        <t-area
          kind="code"
          rows="2"
          placeholder="scan or type them, or a range: A-001..A-010"
          [label]="'Serial numbers of ' + name()"
          [value]="text()"
          (valueChange)="typeSerials($event)"
          (settled)="typeSerials(unscanned($event))"
        />
        @if (serials().wrong !== '') {
          <span class="wrong">{{ serials().wrong }}</span>
        }
      </label>
      <div class="acts">
        @if (proposed().length > 0) {
          <button nz-button type="button" class="act small" (click)="takeFirst()">Take the first {{ quantity() || 0 }}</button>
          <span class="quiet">{{ inStock() }}</span>
        } @else if (incoming()) {
          <button nz-button type="button" class="act small" [disabled]="!(+quantity() > 0)" (click)="makeNext()">Make the next numbers</button>
        }
      </div>
    } @else if (tracking() === 'lot') {
      <div class="lots" role="group" [attr.aria-label]="'Lots of ' + name()">
        @for (row of rows(); track $index; let index = $index) {
          <label class="field"
            ><span>Lot</span
            ><t-text
              kind="code"
              [attr.list]="proposed().length > 0 ? 'lots-' + id() : null"
              [label]="'Lot of ' + name()"
              [value]="row.lot"
              (valueChange)="typeLot(index, $event)"
              (settled)="leaveLot(index, $event)"
          /></label>
          @if (incoming()) {
            <label class="field"
              ><span>Made on</span
              ><t-date
                [label]="'Made-on date of the lot of ' + name()"
                [value]="row.madeOn"
                (valueChange)="put(index, { madeOn: $event })"
                [quiet]="true"
            /></label>
            <label class="field"
              ><span>Expires</span
              ><t-date [label]="'Expiry of the lot of ' + name()" [value]="row.expiry" (valueChange)="put(index, { expiry: $event })" [quiet]="true"
            /></label>
          }
          <label class="field"
            ><span>Quantity</span
            ><t-text
              kind="figure"
              [label]="'Quantity of the lot of ' + name()"
              [placeholder]="rows().length === 1 ? quantity() : ''"
              [value]="row.quantity"
              (valueChange)="put(index, { quantity: $event })"
          /></label>
        }
      </div>
      <div class="acts">
        <button nz-button type="button" class="act small" (click)="add()">Another lot</button>
        @if (proposed().length > 0) {
          <span class="quiet">Left empty, what expires first is taken: {{ inStock() }}</span>
          <datalist [id]="'lots-' + id()">
            @for (piece of proposed(); track piece.lot + piece.bin) {
              <option [value]="piece.lot"></option>
            }
          </datalist>
        }
      </div>
    }
    @if (refused() !== '') {
      <p class="wrong">{{ refused() }}</p>
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 6px;
      padding: 6px 0 10px;
    }
    .lots {
      display: grid;
      grid-template-columns: repeat(auto-fill, minmax(120px, 1fr));
      gap: 6px;
    }
    .wrong {
      color: var(--trouble);
      font-size: 12px;
    }
  `,
})
export class PiecesField extends FormField<readonly PieceInput[]> {
  private readonly client = inject(ApiClient);
  readonly tracking = input.required<'none' | 'lot' | 'serial'>();
  readonly itemId = input.required<number>();
  readonly name = input.required<string>();
  readonly quantity = input.required<string>();
  readonly incoming = input(false);
  /** What may be taken, in the order in which it should be. */
  readonly proposed = input<readonly PieceView[]>([]);
  readonly refused = input('');
  readonly pieces = model<readonly PieceInput[]>([]);
  protected readonly id = computed(() => `${this.itemId()}`);
  protected readonly text = computed(() => this.pieces()[0]?.serials ?? '');
  protected readonly serials = computed(() => countSerials(this.text()));
  protected readonly enough = computed(() => this.serials().count === Number(this.quantity() || 0));
  protected readonly rows = computed((): readonly TypedLot[] => {
    const rows = this.pieces().map((piece) => ({
      lot: piece.lot ?? '',
      madeOn: piece.madeOn ?? '',
      expiry: piece.expiry ?? '',
      quantity: piece.quantity ?? '',
    }));
    return rows.length === 0 ? [EMPTY] : rows;
  });
  protected readonly inStock = computed(() =>
    this.proposed()
      .slice(0, 6)
      .map((piece) =>
        piece.serial === '' ? `${piece.lot} ${piece.quantity}${piece.expiry === null ? '' : ` until ${shortDay(piece.expiry)}`}` : piece.serial,
      )
      .join(', '),
  );

  private say(pieces: readonly PieceInput[]): void {
    this.changed(pieces);
    this.pieces.set(pieces);
  }

  writeValue(value: readonly PieceInput[] | null): void {
    this.pieces.set(value ?? []);
  }

  protected typeSerials(serials: string): void {
    this.say(serials.trim() === '' ? [] : [{ serials }]);
  }

  /** Each scanned element string becomes its serial number. */
  protected unscanned(text: string): string {
    return text
      .split('\n')
      .map((line) => scannedPiece(line)?.serial ?? line)
      .join('\n');
  }

  protected takeFirst(): void {
    this.typeSerials(
      this.proposed()
        .slice(0, Number(this.quantity() || 0))
        .map((piece) => piece.serial)
        .join(' '),
    );
  }

  protected makeNext(): void {
    this.client
      .beside(api.stores.nextSerials, { params: { id: this.itemId() }, query: { count: Number(this.quantity()) } }, null)
      .subscribe((next) => (next ? this.typeSerials(next.serials.join(' ')) : this.say([])));
  }

  protected typeLot(index: number, lot: string): void {
    this.put(index, { lot });
  }

  protected leaveLot(index: number, text: string): void {
    const scanned = scannedPiece(text);
    if (scanned?.lot === undefined) return;
    const { lot, madeOn, expiry } = scanned;
    this.put(index, { lot, ...(madeOn === undefined ? {} : { madeOn }), ...(expiry === undefined ? {} : { expiry }) });
  }

  protected put(index: number, change: Partial<TypedLot>): void {
    const rows = this.rows().map((row, at) => (at === index ? { ...row, ...change } : row));
    this.say(rows.filter((row, at) => at > 0 || Object.values(row).some((text) => text !== '')).map(pieceOf));
  }

  protected add(): void {
    this.say([...this.rows().map(pieceOf), { lot: '' }]);
  }
}
