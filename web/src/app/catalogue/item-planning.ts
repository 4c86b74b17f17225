/** How an item is planned where its rules in the warehouses do not say it. */
import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal, signal } from '@angular/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type ItemView } from '@terrace/contract';
import { RULE_FIELDS, type RuleField, type RuleOrigin, type RuleTexts } from '@terrace/core';
import { RULE_NAMES, RuleTextsForm, originWords, ruleTextWords } from '../ui/rule-texts';
import { ItemStore } from './item.store';
import { Fold } from '../ui/fold';

@Component({
  selector: 't-item-planning',
  imports: [Fold, NzButtonModule, RuleTextsForm],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-fold class="pane" heading="Planning defaults" kept="item.defaults" unfolded>
      @if (open()) {
        <t-rule-texts [texts]="texts()" [above]="above()" [refused]="refused()" (typed)="texts.set($event)" />
        <div class="acts">
          <button nz-button type="button" class="act first" [disabled]="store.busy()" (click)="save()">Save; its rules follow</button>
          <button nz-button type="button" class="act plain small" (click)="leave()">Leave it</button>
        </div>
      } @else {
        <p class="quiet">
          @for (each of said(); track each.field) {
            {{ names[each.field] }} {{ words(each.field, each.origin.value) }} {{ from(each.origin) }}{{ $last ? '.' : '; ' }}
          } @empty {
            Neither the item nor its group says anything.
          }
        </p>
        @if (editable()) {
          <div class="acts"><button nz-button type="button" class="act small" (click)="open.set(true)">Say it for the item</button></div>
        }
      }
    </t-fold>
  `,
  styleUrl: './item-edit.page.less',
})
export class ItemPlanning {
  readonly item = input.required<ItemView>();
  readonly editable = input(false);
  protected readonly store = inject(ItemStore);
  protected readonly open = signal(false);
  protected readonly names = RULE_NAMES;
  protected readonly from = originWords;
  protected readonly words = ruleTextWords;
  protected readonly refused = computed(() => this.store.problem()?.fields ?? {});
  /** Figures that the item or its group says, with where they are from. */
  protected readonly said = computed(() =>
    RULE_FIELDS.flatMap((field) => {
      const origin = this.item().ruleGiven[field];
      return origin.from === 'plain' ? [] : [{ field, origin }];
    }),
  );
  private readonly own = computed((): RuleTexts =>
    Object.fromEntries(this.said().flatMap(({ field, origin }) => (origin.from === 'item' ? [[field, origin.value]] : []))),
  );
  protected readonly texts = linkedSignal(() => this.own());
  /** What would hold without the item; of what the item says now that is known after saving. */
  protected readonly above = computed((): Partial<Record<RuleField, RuleOrigin>> =>
    Object.fromEntries(Object.entries(this.item().ruleGiven).filter(([, origin]) => origin.from !== 'item')),
  );

  protected save(): void {
    const { id, version } = this.item();
    this.store.perform(api.planning.setItemPlanning, { params: { id }, body: { planning: this.texts(), version } }, () => this.open.set(false));
  }

  protected leave(): void {
    this.texts.set(this.own());
    this.open.set(false);
  }
}
