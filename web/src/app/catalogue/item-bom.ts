/** What an item is made from; changed here line by line. */
import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type ItemChoice, type ItemView } from '@terrace/contract';
import { DateField, NumberField } from '../ui/fields';
import { ShortDayPipe } from '../ui/format';
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

@Component({
  selector: 't-item-bom',
  imports: [Fold, Sheet, NzButtonModule, RouterLink, DateField, NumberField, ItemField, Labelled, ShortDayPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (item().bom.length > 0 || editable()) {
      <t-fold class="pane" heading="Made from" kept="item.bom" unfolded>
        @if (draft(); as lines) {
          @for (line of lines; track $index; let index = $index) {
            <div class="part" role="group" [attr.aria-label]="'Part ' + (index + 1)">
              <t-field name="Part" class="item" [refused]="fields()['lines.' + index + '.componentId']" [hint]="line.description">
                <t-item-field label="Part" [code]="line.component" (taken)="take(index, $event)" />
              </t-field>
              <t-field [name]="'For one' + (line.unit === '' ? '' : ', ' + line.unit)" [refused]="fields()['lines.' + index + '.quantity']">
                <t-number label="For one" [value]="line.quantity" (valueChange)="set(index, { quantity: $event })" />
              </t-field>
              <t-field name="Scrap share" [refused]="fields()['lines.' + index + '.scrap']">
                <t-number label="Scrap share" [value]="line.scrap" (valueChange)="set(index, { scrap: $event })" />
              </t-field>
              <t-field name="Days after start">
                <t-number label="Days after start" [value]="line.offsetDays" (valueChange)="set(index, { offsetDays: $event })" />
              </t-field>
              <t-field name="From"><t-date label="From" [value]="line.validFrom" (valueChange)="set(index, { validFrom: $event })" /></t-field>
              <t-field name="To"><t-date label="To" [value]="line.validTo" (valueChange)="set(index, { validTo: $event })" /></t-field>
              <button nz-button type="button" class="act plain small" [attr.aria-label]="'Remove part ' + (index + 1)" (click)="remove(index)">
                ✕
              </button>
            </div>
          }
          <div class="acts">
            <button nz-button type="button" class="act small" (click)="add()">Add a part</button>
            <button nz-button type="button" class="act first" [disabled]="store.busy()" (click)="save()">Make it from these</button>
            <button nz-button type="button" class="act plain small" (click)="draft.set(null)">Leave it</button>
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
                  <td class="figure quiet">{{ line.scrap === '0' ? '' : 'scrap ' + line.scrap }}</td>
                  <td class="figure quiet">{{ line.offsetDays === 0 ? '' : line.offsetDays + ' days in' }}</td>
                </tr>
              } @empty {
                <tr>
                  <td class="quiet">Nothing says what it is made from.</td>
                </tr>
              }
            </tbody>
          </t-sheet>
          @if (editable()) {
            <div class="acts">
              <button nz-button type="button" class="act small" (click)="begin()">
                {{ item().bom.length > 0 ? 'Change what it is made from' : 'Say what it is made from' }}
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
  protected readonly draft = signal<readonly DraftLine[] | null>(null);
  protected readonly fields = computed(() => this.store.problem()?.fields ?? {});

  protected begin(): void {
    const lines = this.item().bom.map(({ position: _position, ...line }) => ({
      ...line,
      offsetDays: String(line.offsetDays),
      validFrom: line.validFrom ?? '',
      validTo: line.validTo ?? '',
    }));
    this.draft.set(lines);
    if (lines.length === 0) this.add();
  }

  protected add(): void {
    const empty = {
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
    this.draft.update((lines) => [...(lines ?? []), empty]);
  }

  protected take(index: number, { id, code, description, unit }: ItemChoice): void {
    this.set(index, { componentId: id, component: code, description, unit });
  }

  protected set(index: number, change: Partial<DraftLine>): void {
    this.draft.update((lines) => lines && lines.map((line, at) => (at === index ? { ...line, ...change } : line)));
  }

  protected remove(index: number): void {
    this.draft.update((lines) => lines && lines.filter((_, at) => at !== index));
  }

  protected save(): void {
    const { id, version } = this.item();
    const lines = (this.draft() ?? [])
      .filter((line) => line.componentId > 0)
      .map(({ componentId, quantity, scrap, offsetDays, validFrom, validTo }) => ({
        componentId,
        quantity,
        scrap: scrap || '0',
        offsetDays: Math.max(0, Math.round(Number(offsetDays) || 0)),
        validFrom: validFrom === '' ? null : validFrom,
        validTo: validTo === '' ? null : validTo,
      }));
    this.store.perform(api.catalogue.setBom, { params: { id }, body: { lines, version } }, () => this.draft.set(null));
  }
}
