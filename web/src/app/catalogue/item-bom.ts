/** What an item is made from; changed here line by line. */
import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import { api, type ItemChoice, type ItemView } from '@terrace/contract';
import { DateField, NumberField } from '../ui/fields';
import { ShortDayPipe } from '../ui/format';
import { ItemField } from '../ui/item-field';
import { ItemStore } from './item.store';

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
  imports: [RouterLink, DateField, NumberField, ItemField, ShortDayPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (item().bom.length > 0 || editable()) {
      <section class="pane">
        <h2>Made from</h2>
        @if (draft(); as lines) {
          <div class="wide" tabindex="0" role="region" aria-label="What it is made from">
            <table class="sheet">
              <thead>
                <tr>
                  <th>Part</th>
                  <th class="figure">For one</th>
                  <th class="figure">Scrap share</th>
                  <th class="figure">Days after start</th>
                  <th>From</th>
                  <th>To</th>
                  <th><span class="sr">Remove</span></th>
                </tr>
              </thead>
              <tbody>
                @for (line of lines; track $index; let index = $index) {
                  <tr>
                    <td>
                      <t-item-field
                        [code]="line.component"
                        [label]="'Part ' + (index + 1)"
                        [refused]="fields()['lines.' + index + '.componentId']"
                        (taken)="take(index, $event)"
                      />
                    </td>
                    <td>
                      <t-number
                        [label]="'For one, part ' + (index + 1)"
                        [refused]="fields()['lines.' + index + '.quantity']"
                        [value]="line.quantity"
                        (valueChange)="set(index, { quantity: $event })"
                      />
                    </td>
                    <td>
                      <t-number
                        [label]="'Scrap share, part ' + (index + 1)"
                        [refused]="fields()['lines.' + index + '.scrap']"
                        [value]="line.scrap"
                        (valueChange)="set(index, { scrap: $event })"
                      />
                    </td>
                    <td>
                      <t-number
                        [label]="'Days after start, part ' + (index + 1)"
                        [value]="line.offsetDays"
                        (valueChange)="set(index, { offsetDays: $event })"
                      />
                    </td>
                    <td>
                      <t-date [label]="'From, part ' + (index + 1)" [value]="line.validFrom" (valueChange)="set(index, { validFrom: $event })" />
                    </td>
                    <td><t-date [label]="'To, part ' + (index + 1)" [value]="line.validTo" (valueChange)="set(index, { validTo: $event })" /></td>
                    <td>
                      <button type="button" class="act plain small" [attr.aria-label]="'Remove part ' + (index + 1)" (click)="remove(index)">
                        ✕
                      </button>
                    </td>
                  </tr>
                }
              </tbody>
            </table>
          </div>
          <div class="acts">
            <button type="button" class="act small" (click)="add()">Add a part</button>
            <button type="button" class="act first" [disabled]="store.busy()" (click)="save()">Make it from these</button>
            <button type="button" class="act plain small" (click)="draft.set(null)">Leave it</button>
          </div>
        } @else {
          <table class="sheet">
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
          </table>
          @if (editable()) {
            <div class="acts">
              <button type="button" class="act small" (click)="begin()">
                {{ item().bom.length > 0 ? 'Change what it is made from' : 'Say what it is made from' }}
              </button>
            </div>
          }
        }
      </section>
    }
  `,
  styleUrl: './item-edit.page.less',
  styles: '.wide { overflow-x: auto; } .wide td { min-width: 84px; }',
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
