/** A sheet of labels: choose what they are for and how many of each, and print. */
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { type ItemChoice } from '@terrace/contract';
import { Choices } from '../client/choices';
import { NumberField } from '../ui/fields';
import { ItemField } from '../ui/item-field';
import { StoresNav } from './stores-nav';

@Component({
  imports: [ItemField, NumberField, StoresNav],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-stores-nav />
    <div class="page">
      <h1>Labels</h1>
      <p class="quiet">Each carries a GS1 barcode that any scanner reads back: item, lot with expiry, serial number. Bins carry a code of ours.</p>
      <div class="cards">
        <section class="pane">
          <h2>Items</h2>
          <label class="field"><span>Item</span><t-item-field label="Item for labels" (taken)="item.set($event)" /></label>
          <label class="field" style="width: 120px"
            ><span>Labels</span><t-number label="Labels of the item" [(value)]="copies" [quiet]="true"
          /></label>
          @if (item(); as chosen) {
            <div class="acts">
              <a class="act first" target="_blank" [href]="'/api/papers/labels/item/' + chosen.id + '?copies=' + count()"
                >Print {{ count() }} of {{ chosen.code }}</a
              >
              @if (chosen.code) {
                <a class="act" target="_blank" [href]="'/api/papers/labels/lotsOf/' + chosen.id">One for each of its lots</a>
                <a class="act" target="_blank" [href]="'/api/papers/labels/serialsOf/' + chosen.id">One for each of its numbers in stock</a>
              }
            </div>
          }
        </section>
        <section class="pane">
          <h2>Bins</h2>
          @for (warehouse of choices.all().warehouses; track warehouse.id) {
            <p>
              <a class="act" target="_blank" [href]="'/api/papers/labels/bins/' + warehouse.id">All bins of {{ warehouse.code }}</a>
            </p>
          }
        </section>
      </div>
      <p class="quiet">Labels of one lot or one serial number are on its own page.</p>
    </div>
  `,
  styles: `
    .cards {
      display: grid;
      grid-template-columns: repeat(auto-fit, minmax(320px, 1fr));
      gap: 16px;
      align-items: start;
    }
    .pane {
      display: grid;
      gap: 10px;
    }
  `,
})
export class LabelsPage {
  protected readonly choices = inject(Choices);
  protected readonly item = signal<ItemChoice | null>(null);
  protected readonly copies = signal('8');
  protected readonly count = computed(() => Math.min(500, Math.max(1, Math.floor(Number(this.copies()) || 1))));
}
