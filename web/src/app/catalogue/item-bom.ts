/** What an item is made from; changed here line by line. */
import { ChangeDetectionStrategy, Component, effect, inject, input, signal, untracked } from '@angular/core';
import { RouterLink } from '@angular/router';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type BodyIn, type ItemChoice, type ItemView } from '@terrace/contract';
import { readDecimal, writeDecimal } from '@terrace/core';
import { DateField, NumberField } from '../ui/fields';
import { ShortDayPipe } from '../ui/format';
import { Control, entryOf } from '../ui/forms';
import { ItemField } from '../ui/item-field';
import { Labelled } from '../ui/labelled';
import { ItemStore } from './item.store';
import { Sheet } from '../ui/sheet';
import { Fold } from '../ui/fold';

interface DraftLine {
  readonly componentId: number;
  readonly component: string;
  readonly description: string;
  readonly unit: string;
  readonly quantity: string;
  readonly scrap: string;
  readonly offsetDays: string;
  readonly validFrom: string;
  readonly validTo: string;
}

/** A share (0.05) as it is typed, in percent (5), and back; what can't be read is left to be refused. */
const moved = (text: string, places: number): string => {
  const read = readDecimal(text || '0');
  return read ? writeDecimal(read.mantissa * 10n ** BigInt(Math.max(0, places)), read.scale + Math.max(0, -places)) : text;
};
const percentOf = (share: string): string => moved(share, 2);
const shareOf = (percent: string): string => moved(percent, -2);

const EMPTY: DraftLine = {
  componentId: 0,
  component: '',
  description: '',
  unit: '',
  quantity: '1',
  scrap: '0',
  offsetDays: '0',
  validFrom: '',
  validTo: '',
};

/** Lines that name a component; one that is still empty is not sent. */
const named = (lines: readonly DraftLine[]): DraftLine[] => lines.filter((line) => line.componentId > 0);

function linesOf(lines: readonly DraftLine[]): BodyIn<typeof api.catalogue.setBom>['lines'] {
  return named(lines).map(({ componentId, quantity, scrap, offsetDays, validFrom, validTo }) => ({
    componentId,
    quantity,
    scrap: shareOf(scrap),
    offsetDays: Math.max(0, Math.round(Number(offsetDays) || 0)),
    validFrom: validFrom === '' ? null : validFrom,
    validTo: validTo === '' ? null : validTo,
  }));
}

@Component({
  selector: 't-item-bom',
  imports: [Control, Fold, Sheet, NzButtonModule, RouterLink, DateField, NumberField, ItemField, Labelled, ShortDayPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (item().bom.length > 0 || editable()) {
      <t-fold class="pane" heading="Bill of materials" kept="item.bom" unfolded>
        @if (editing()) {
          @for (line of draft().lines; track $index; let index = $index) {
            @let fields = entry.fields.lines[index]!;
            <div class="part" role="group" [attr.aria-label]="'Component ' + (index + 1)">
              <t-field name="Component" class="item" [refused]="entry.refused()['lines.' + index + '.componentId']" [hint]="line.description">
                <t-item-field label="Component" [code]="line.component" (taken)="take(index, $event)" />
              </t-field>
              <t-field [name]="'Quantity for one' + (line.unit === '' ? '' : ', ' + line.unit)">
                <t-number label="Quantity for one" [formField]="fields.quantity" />
              </t-field>
              <t-field name="Scrap allowance, % on top"><t-number label="Scrap allowance, % on top" [formField]="fields.scrap" /></t-field>
              <t-field name="Offset, days after start"><t-number label="Offset, days after start" [formField]="fields.offsetDays" /></t-field>
              <t-field name="From"><t-date label="From" [formField]="fields.validFrom" /></t-field>
              <t-field name="To"><t-date label="To" [formField]="fields.validTo" /></t-field>
              <button nz-button type="button" class="act plain small" [attr.aria-label]="'Remove component ' + (index + 1)" (click)="remove(index)">
                ✕
              </button>
            </div>
          }
          <div class="acts">
            <button nz-button type="button" class="act small" (click)="add()">Add a component</button>
            <button nz-button type="button" class="act first" [disabled]="store.busy()" (click)="save()">Save the bill of materials</button>
            <button nz-button type="button" class="act plain small" (click)="close()">Leave it</button>
          </div>
        } @else {
          <t-sheet>
            <tbody>
              @for (line of item().bom; track line.position) {
                <tr>
                  <td>
                    <a class="code" [routerLink]="['/catalogue/items', line.componentId]">{{ line.component }}</a>
                  </td>
                  <td class="quiet">
                    {{ line.description }}
                    @if (line.validFrom || line.validTo) {
                      <div>
                        {{ line.validFrom ? 'from ' + (line.validFrom | shortDay) : '' }} {{ line.validTo ? 'to ' + (line.validTo | shortDay) : '' }}
                      </div>
                    }
                  </td>
                  <td class="figure">
                    {{ line.quantity }} <span class="quiet">{{ line.unit }}</span>
                  </td>
                  <td class="figure quiet">{{ line.scrap === '0' ? '' : '+' + percentOf(line.scrap) + ' % scrap allowance' }}</td>
                  <td class="figure quiet">{{ line.offsetDays === 0 ? '' : line.offsetDays + ' days in' }}</td>
                </tr>
              } @empty {
                <tr>
                  <td class="quiet">No bill of materials yet.</td>
                </tr>
              }
            </tbody>
          </t-sheet>
          @if (editable()) {
            <div class="acts">
              <button nz-button type="button" class="act small" (click)="begin()">
                {{ item().bom.length > 0 ? 'Change the bill of materials' : 'Set up a bill of materials' }}
              </button>
            </div>
          }
        }
      </t-fold>
    }
  `,
  styleUrl: './item-edit.page.less',
  styles: `
    .part {
      display: grid;
      grid-template-columns: repeat(auto-fit, minmax(84px, 1fr));
      gap: 6px 10px;
      align-items: end;
      padding-bottom: 8px;
      border-bottom: 1px solid var(--line);
      .item {
        grid-column: span 2;
      }
      .act {
        justify-self: start;
      }
    }
  `,
})
export class ItemBom {
  readonly item = input.required<ItemView>();
  readonly editable = input(false);
  protected readonly store = inject(ItemStore);
  protected readonly draft = signal<{ readonly lines: readonly DraftLine[] }>({ lines: [] });
  protected readonly editing = signal(false);
  protected readonly percentOf = percentOf;
  protected readonly entry = entryOf({
    part: () => 'bom',
    draft: this.draft,
    problem: () => (this.editing() ? this.store.problem() : null),
    route: () => (this.editing() ? api.catalogue.setBom : null),
    body: ({ lines }) => ({ lines: linesOf(lines), version: this.item().version }),
    // What is sent leaves empty lines out.
    place: (place, { lines }) =>
      place.replace(/^lines\.(\d+)/, (_, sent: string) => {
        const line = named(lines)[Number(sent)];
        return `lines.${line ? lines.indexOf(line) : sent}`;
      }),
  });

  constructor() {
    effect(() => {
      this.item();
      untracked(() => this.entry.waiting() && this.begin());
    });
  }

  protected begin(): void {
    const lines = this.item().bom.map(({ position: _position, ...line }) => ({
      ...line,
      scrap: percentOf(line.scrap),
      offsetDays: String(line.offsetDays),
      validFrom: line.validFrom ?? '',
      validTo: line.validTo ?? '',
    }));
    this.entry.begin({ lines: lines.length === 0 ? [{ ...EMPTY }] : lines });
    this.editing.set(true);
  }

  protected close(): void {
    this.entry.settle();
    this.editing.set(false);
  }

  protected add(): void {
    this.put((lines) => [...lines, { ...EMPTY }]);
  }

  protected take(index: number, { id, code, description, unit }: ItemChoice): void {
    this.put((lines) => lines.map((line, at) => (at === index ? { ...line, componentId: id, component: code, description, unit } : line)));
  }

  protected remove(index: number): void {
    this.put((lines) => lines.filter((_, at) => at !== index));
  }

  private put(change: (lines: readonly DraftLine[]) => readonly DraftLine[]): void {
    this.draft.update(({ lines }) => ({ lines: change(lines) }));
  }

  protected save(): void {
    const { id, version } = this.item();
    const body = { lines: linesOf(this.draft().lines), version };
    this.store.perform(api.catalogue.setBom, { params: { id }, body }, () => this.close());
  }
}
