/** How an item is planned where its rules in the warehouses do not say it. */
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal, untracked } from '@angular/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type ItemView } from '@terrace/contract';
import { RULE_FIELDS, type RuleField, type RuleOrigin, type RuleTexts } from '@terrace/core';
import { Control, entryOf } from '../ui/forms';
import { RULE_NAMES, RuleTextsForm, originWords, ruleTextWords } from '../ui/rule-texts';
import { ItemStore } from './item.store';
import { Fold } from '../ui/fold';

@Component({
  selector: 't-item-planning',
  imports: [Control, Fold, NzButtonModule, RuleTextsForm],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-fold class="pane" heading="Planning defaults" kept="item.defaults" unfolded>
      @if (open()) {
        <t-rule-texts [formField]="entry.fields.planning" [above]="above()" [refused]="entry.refused()" />
        <div class="acts">
          <button nz-button type="button" class="act first" [disabled]="store.busy()" (click)="save()">Save; its rules follow</button>
          <button nz-button type="button" class="act plain small" (click)="close()">Leave it</button>
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
          <div class="acts"><button nz-button type="button" class="act small" (click)="begin()">Set for the item</button></div>
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
  protected readonly draft = signal<{ readonly planning: RuleTexts }>({ planning: {} });
  protected readonly open = signal(false);
  protected readonly entry = entryOf({
    part: () => 'planning',
    draft: this.draft,
    problem: () => (this.open() ? this.store.problem() : null),
    route: () => (this.open() ? api.planning.setItemPlanning : null),
    body: (draft) => ({ ...draft, version: this.item().version }),
  });
  protected readonly names = RULE_NAMES;
  protected readonly from = originWords;
  protected readonly words = ruleTextWords;
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
  /** What would hold without the item; of what the item says now that is known after saving. */
  protected readonly above = computed((): Partial<Record<RuleField, RuleOrigin>> =>
    Object.fromEntries(Object.entries(this.item().ruleGiven).filter(([, origin]) => origin.from !== 'item')),
  );

  constructor() {
    effect(() => {
      this.item();
      untracked(() => this.entry.waiting() && this.begin());
    });
  }

  protected begin(): void {
    this.entry.begin({ planning: this.own() });
    this.open.set(true);
  }

  protected save(): void {
    const { id, version } = this.item();
    this.store.perform(api.planning.setItemPlanning, { params: { id }, body: { ...this.draft(), version } }, () => this.close());
  }

  protected close(): void {
    this.entry.settle();
    this.open.set(false);
  }
}
