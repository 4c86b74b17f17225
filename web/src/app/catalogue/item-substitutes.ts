/** What can stand in for an item, shown with what is free of it; set here. */
import { ChangeDetectionStrategy, Component, effect, inject, input, signal, untracked } from '@angular/core';
import { RouterLink } from '@angular/router';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type BodyIn, type ItemChoice, type ItemView } from '@terrace/contract';
import { NumberField } from '../ui/fields';
import { GroupedPipe } from '../ui/format';
import { Control, entryOf } from '../ui/forms';
import { ItemField } from '../ui/item-field';
import { Labelled } from '../ui/labelled';
import { ItemStore } from './item.store';
import { CheckField } from '../ui/check-field';
import { Sheet } from '../ui/sheet';
import { Fold } from '../ui/fold';

type Line = BodyIn<typeof api.catalogue.setSubstitutes>['lines'][number];

interface SubstituteDraft {
  readonly chosen: ItemChoice | null;
  readonly ratio: string;
  readonly bothWays: boolean;
}
const EMPTY: SubstituteDraft = { chosen: null, ratio: '1', bothWays: true };
const lineOf = ({ chosen, ratio, bothWays }: SubstituteDraft): Line => ({ itemId: chosen?.id ?? 0, ratio, bothWays });

@Component({
  selector: 't-item-substitutes',
  imports: [Control, Fold, Labelled, Sheet, NzButtonModule, CheckField, ItemField, NumberField, GroupedPipe, RouterLink],
  changeDetection: ChangeDetectionStrategy.OnPush,
  styles: ':host { display: contents; }',
  template: `
    @if (item().substitutes.length > 0 || editable()) {
      <t-fold class="pane" heading="Substitutes" kept="item.substitutes" unfolded>
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
                <td class="quiet">No substitutes yet.</td>
              </tr>
            }
          </tbody>
        </t-sheet>
        @if (editable()) {
          <div class="acts">
            <t-item-field label="Substitute" [code]="draft().chosen?.code ?? ''" (taken)="take($event)" />
            <t-field name="Quantity for one" style="width: 110px"><t-number label="Quantity for one" [formField]="entry.fields.ratio" /></t-field>
            <t-check [formField]="entry.fields.bothWays">both ways</t-check>
            <button nz-button type="button" class="act small" [disabled]="!draft().chosen || store.busy()" (click)="add()">Add it</button>
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
  protected readonly draft = signal<SubstituteDraft>(EMPTY);
  protected readonly entry = entryOf({
    part: () => 'substitute',
    draft: this.draft,
    route: () => (this.draft().chosen ? api.catalogue.setSubstitutes : null),
    body: (draft) => ({ version: this.item().version, lines: [lineOf(draft)] }),
    place: (place) => place.replace(/^lines\.0\./, ''),
  });

  constructor() {
    effect(() => {
      this.item();
      untracked(() => this.entry.waiting() && this.entry.begin(EMPTY));
    });
  }

  protected take(chosen: ItemChoice): void {
    this.draft.update((draft) => ({ ...draft, chosen }));
  }

  protected add(): void {
    const line = lineOf(this.draft());
    this.set([...this.kept().filter((each) => each.itemId !== line.itemId), line], () => this.entry.begin(EMPTY));
  }

  protected drop(id: number): void {
    this.set(this.kept().filter((each) => each.itemId !== id));
  }

  private kept(): Line[] {
    return this.item().substitutes.map(({ id, ratio, bothWays }) => ({ itemId: id, ratio, bothWays }));
  }

  private set(lines: Line[], done: () => void = () => undefined): void {
    const { id, version } = this.item();
    this.store.perform(api.catalogue.setSubstitutes, { params: { id }, body: { version, lines } }, done);
  }
}
