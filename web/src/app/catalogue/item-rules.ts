/** How an item is planned in each warehouse; set here. */
import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { api, type ItemView } from '@terrace/contract';
import { Choices } from '../shell/choices';
import { NumberField } from '../ui/fields';
import { GroupedPipe } from '../ui/format';
import { Labelled } from '../ui/labelled';
import { ItemStore } from './item.store';

interface RuleDraft {
  readonly warehouseId: number;
  readonly source: 'buy' | 'make' | 'none';
  readonly leadDays: string;
  readonly safety: string;
  readonly minimum: string;
  readonly multiple: string;
  readonly slackDays: string;
  readonly version?: number;
}

@Component({
  selector: 't-item-rules',
  imports: [NumberField, Labelled, GroupedPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section class="pane">
      <h2>Planning</h2>
      <table class="sheet">
        <thead>
          <tr>
            <th>In</th>
            <th>From</th>
            <th class="figure">Lead days</th>
            <th class="figure">Safety</th>
            <th class="figure">Minimum</th>
            <th class="figure">Multiple</th>
            @if (editable()) {
              <th><span class="sr">Change</span></th>
            }
          </tr>
        </thead>
        <tbody>
          @for (rule of item().rules; track rule.warehouseId) {
            <tr>
              <td>{{ rule.warehouse }}</td>
              <td>{{ rule.source }}</td>
              <td class="figure">{{ rule.source === 'buy' && rule.leadDays === 0 ? 'supplier’s' : rule.leadDays }}</td>
              <td class="figure">{{ rule.safety | grouped }}</td>
              <td class="figure">{{ rule.minimum === '0' ? '—' : (rule.minimum | grouped) }}</td>
              <td class="figure">{{ rule.multiple === '0' ? '—' : (rule.multiple | grouped) }}</td>
              @if (editable()) {
                <td>
                  <button type="button" class="act plain small" [attr.aria-label]="'Change planning in ' + rule.warehouse" (click)="open(rule)">
                    Change
                  </button>
                </td>
              }
            </tr>
          } @empty {
            <tr>
              <td class="quiet" colspan="6">No rule yet: the plan leaves it out, and says so where it is short.</td>
            </tr>
          }
        </tbody>
      </table>
      @if (draft(); as rule) {
        <div class="fields">
          <t-field name="Source">
            <select #source class="box" (change)="set({ source: asSource(source.value) })">
              @for (each of ['buy', 'make', 'none']; track each) {
                <option [value]="each" [selected]="each === rule.source">{{ each }}</option>
              }
            </select>
          </t-field>
          @for (each of figures; track each.key) {
            <t-field [name]="each.name" [refused]="fields()[each.key]">
              <t-number [label]="each.name" [packs]="item().packs" [value]="rule[each.key]" (valueChange)="set(asChange(each.key, $event))" />
            </t-field>
          }
        </div>
        <div class="acts">
          <button type="button" class="act first" [disabled]="store.busy()" (click)="save()">
            Plan it so in {{ warehouseOf(rule.warehouseId) }}
          </button>
          <button type="button" class="act plain small" (click)="draft.set(null)">Leave it</button>
        </div>
      } @else if (editable()) {
        <div class="acts">
          @for (each of free(); track each.id) {
            <button type="button" class="act small" (click)="begin(each.id)">Plan it in {{ each.code }}</button>
          }
        </div>
      }
    </section>
  `,
  styleUrl: './item-edit.page.less',
})
export class ItemRules {
  readonly item = input.required<ItemView>();
  readonly editable = input(false);
  protected readonly store = inject(ItemStore);
  protected readonly choices = inject(Choices);
  protected readonly draft = signal<RuleDraft | null>(null);
  protected readonly fields = computed(() => this.store.problem()?.fields ?? {});
  protected readonly free = computed(() =>
    this.choices.all().warehouses.filter((each) => !this.item().rules.some((rule) => rule.warehouseId === each.id)),
  );
  protected readonly figures = [
    { key: 'leadDays', name: 'Lead days; 0 takes the supplier’s' },
    { key: 'safety', name: 'Safety stock' },
    { key: 'minimum', name: 'Minimum' },
    { key: 'multiple', name: 'Multiple' },
    { key: 'slackDays', name: 'Days early that do no harm' },
  ] as const;

  protected open(rule: ItemView['rules'][number]): void {
    const source = this.asSource(rule.source);
    this.draft.set({ ...rule, source, leadDays: String(rule.leadDays), slackDays: String(rule.slackDays) });
  }

  protected begin(warehouseId: number): void {
    const source = this.item().bom.length > 0 ? 'make' : 'buy';
    this.draft.set({ warehouseId, source, leadDays: '0', safety: '0', minimum: '0', multiple: '0', slackDays: '2' });
  }

  protected set(change: Partial<RuleDraft>): void {
    this.draft.update((draft) => draft && { ...draft, ...change });
  }

  protected asSource(value: string): RuleDraft['source'] {
    return value === 'buy' || value === 'make' ? value : 'none';
  }

  protected asChange(key: string, value: string): Partial<RuleDraft> {
    return { [key]: value };
  }

  protected warehouseOf(id: number): string {
    return this.choices.all().warehouses.find((each) => each.id === id)?.code ?? '';
  }

  protected save(): void {
    const draft = this.draft();
    if (!draft) return;
    const { warehouseId, source, version } = draft;
    const body = {
      warehouseId,
      source,
      ...(version === undefined ? {} : { version }),
      leadDays: Number(draft.leadDays || '0'),
      slackDays: Number(draft.slackDays || '0'),
      safety: draft.safety || '0',
      minimum: draft.minimum || '0',
      multiple: draft.multiple || '0',
    };
    this.store.perform(api.catalogue.setRule, { params: { id: this.item().id }, body }, () => this.draft.set(null));
  }
}
