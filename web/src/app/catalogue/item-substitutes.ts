/** What can stand in for an item, shown with what is free of it; set here. */
import { ChangeDetectionStrategy, Component, inject, input, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type ItemChoice, type ItemView } from '@terrace/contract';
import { NumberField } from '../ui/fields';
import { GroupedPipe } from '../ui/format';
import { ItemField } from '../ui/item-field';
import { ItemStore } from './item.store';
import { CheckField } from '../ui/check-field';
import { Sheet } from '../ui/sheet';
import { Fold } from '../ui/fold';

@Component({
  selector: 't-item-substitutes',
  imports: [Fold, Sheet, NzButtonModule, CheckField, ItemField, NumberField, GroupedPipe, RouterLink],
  changeDetection: ChangeDetectionStrategy.OnPush,
  styles: ':host { display: contents; }',
  template: `
    @if (item().substitutes.length > 0 || editable()) {
      <t-fold class="pane" heading="Can stand in for it" kept="item.substitutes" unfolded>
        <t-sheet>
          <tbody>
            @for (each of item().substitutes; track each.id) {
              <tr>
                <td>
                  <a class="code" [routerLink]="['/catalogue/items', each.id]">{{ each.code }}</a>
                  <div class="quiet">{{ each.description }}</div>
                </td>
                <td class="figure">
                  {{ each.ratio }} <span class="quiet">{{ each.unit }} for one</span>
                </td>
                <td class="figure">{{ each.free | grouped }} <span class="quiet">free</span></td>
                <td class="quiet">{{ each.bothWays ? 'both ways' : 'one way' }}</td>
                @if (editable()) {
                  <td>
                    <button nz-button type="button" class="act plain small" [attr.aria-label]="'Remove ' + each.code" (click)="drop(each.id)">
                      ✕
                    </button>
                  </td>
                }
              </tr>
            } @empty {
              <tr>
                <td class="quiet">Nothing is known that could.</td>
              </tr>
            }
          </tbody>
        </t-sheet>
        @if (editable()) {
          <div class="acts">
            <t-item-field label="Item that can stand in" [code]="chosen()?.code ?? ''" (taken)="chosen.set($event)" />
            <div style="width: 90px"><t-number label="How many for one" [value]="ratio()" (valueChange)="ratio.set($event)" /></div>
            <t-check [checked]="bothWays()" (checkedChange)="bothWays.set($event)">both ways</t-check>
            <button nz-button type="button" class="act small" [disabled]="!chosen() || store.busy()" (click)="add()">Add it</button>
          </div>
        }
      </t-fold>
    }
  `,
})
export class ItemSubstitutes {
  readonly item = input.required<ItemView>();
  readonly editable = input(false);
  protected readonly store = inject(ItemStore);
  protected readonly chosen = signal<ItemChoice | null>(null);
  protected readonly ratio = signal('1');
  protected readonly bothWays = signal(true);

  protected add(): void {
    const { id } = this.chosen() ?? { id: 0 };
    this.set([...this.kept().filter((each) => each.itemId !== id), { itemId: id, ratio: this.ratio(), bothWays: this.bothWays() }]);
  }

  protected drop(id: number): void {
    this.set(this.kept().filter((each) => each.itemId !== id));
  }

  private kept(): { itemId: number; ratio: string; bothWays: boolean }[] {
    return this.item().substitutes.map(({ id, ratio, bothWays }) => ({ itemId: id, ratio, bothWays }));
  }

  private set(lines: { itemId: number; ratio: string; bothWays: boolean }[]): void {
    const { id, version } = this.item();
    this.store.perform(api.catalogue.setSubstitutes, { params: { id }, body: { version, lines } }, () => this.chosen.set(null));
  }
}
