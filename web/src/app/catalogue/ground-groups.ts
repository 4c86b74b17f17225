/** Item groups as a tree: what each states, and what it takes from those above. */
import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal, output, signal } from '@angular/core';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, givenFields, type GivenField, type GroundView } from '@terrace/contract';
import { givenBy, lineage, ruleGivenBy, type Group, type Origin } from '@terrace/core';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { sessionFeature } from '../client/session.state';
import { Labelled } from '../ui/labelled';
import { Refused } from '../ui/refusal';
import { RuleTextsForm } from '../ui/rule-texts';
import { CHOICES, givenWords } from './given-words';
import { SelectField, SelectOption } from '../ui/select-field';
import { TextField } from '../ui/text-field';

const NAMES: Readonly<Record<string, string>> = {
  kind: 'Kind',
  unit: 'Unit',
  tracking: 'Tracked',
  costing: 'Costing method',
  discountCeiling: 'Discount ceiling, %',
  shelfLifeDays: 'Shelf life, days',
  restLifeDays: 'Minimum remaining life when sold, days',
  storageOverhead: 'Storage overhead, % a year',
  planning: 'Planned',
};
type GroundGroup = GroundView['groups'][number];

@Component({
  selector: 't-ground-groups',
  imports: [NzButtonModule, SelectField, SelectOption, TextField, Labelled, Refused, RuleTextsForm],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './ground-groups.html',
  styleUrl: './item-edit.page.less',
})
export class GroundGroups {
  readonly ground = input.required<GroundView>();
  readonly saved = output<GroundView>();
  private readonly client = inject(ApiClient);
  protected readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly problem = signal<Problem | null>(null);
  protected readonly news = signal('');
  protected readonly fields = computed(() => this.problem()?.fields ?? {});
  protected readonly givenFields = givenFields;
  protected readonly fresh = signal(false);
  /** The group in hand; the first one until another is chosen. */
  protected readonly group = linkedSignal<GroundView, GroundGroup | null>({
    source: this.ground,
    computation: (ground, before) => before?.value ?? ground.groups[0] ?? null,
  });
  /** The groups as a tree, each with its depth. */
  protected readonly tree = computed((): readonly (GroundGroup & { depth: number })[] => {
    const groups = this.ground().groups;
    const below = (parent: string | null, depth: number): (GroundGroup & { depth: number })[] =>
      depth > groups.length
        ? []
        : groups.filter((each) => each.parent === parent).flatMap((each) => [{ ...each, depth }, ...below(each.code, depth + 1)]);
    return below(null, 0);
  });
  /** What the chosen group would take from those above. */
  protected readonly above = computed(() => {
    const groups = new Map<string, Group>(this.ground().groups.map((each) => [each.code, { ...each, defaults: each.defaults }]));
    const parent = this.group()?.parent;
    return parent ? givenBy(parent, groups) : new Map<GivenField, Origin>();
  });

  /** How its items would be planned if it said nothing. */
  protected readonly planningAbove = computed(() => {
    const groups = new Map<string, Group>(this.ground().groups.map((each) => [each.code, each]));
    const parent = this.group()?.parent;
    return ruleGivenBy({ code: '' }, parent ? lineage(parent, groups) : []);
  });

  protected nameOf(field: string): string {
    return NAMES[field] ?? field;
  }

  /** What a default can be chosen from; nothing where it is typed. */
  protected choicesFor(field: string): readonly string[] {
    return field === 'unit' ? this.ground().units.map((each) => each.code) : (CHOICES[field] ?? []);
  }

  protected words(value: string | undefined): string {
    return givenWords(value ?? '');
  }

  protected begin(): void {
    const accounts = this.ground().groups[0];
    this.fresh.set(true);
    this.group.set({
      code: '',
      name: '',
      parent: null,
      inventoryAccount: accounts?.inventoryAccount ?? '',
      costOfSalesAccount: accounts?.costOfSalesAccount ?? '',
      revenueAccount: accounts?.revenueAccount ?? '',
      defaults: {},
      planning: {},
      version: 0,
      items: 0,
    });
  }

  protected choose(group: GroundGroup): void {
    this.fresh.set(false);
    this.news.set('');
    this.problem.set(null);
    this.group.set(group);
  }

  protected setGroup(change: Partial<GroundGroup>): void {
    this.group.update((group) => group && { ...group, ...change });
  }

  protected setDefault(field: string, value: string): void {
    this.group.update((group) => {
      if (!group) return group;
      const { [field]: _dropped, ...rest } = group.defaults;
      return { ...group, defaults: value === '' ? rest : { ...rest, [field]: value } };
    });
  }

  protected saveGroup(): void {
    const group = this.group();
    if (!group) return;
    const { items: _items, version, ...body } = group;
    this.problem.set(null);
    this.client.call(api.catalogue.saveGroup, { body: this.fresh() ? body : { ...body, version } }).subscribe({
      next: ({ followed, kept, ...ground }) => {
        this.saved.emit(ground);
        this.fresh.set(false);
        this.group.set(ground.groups.find((each) => each.code === group.code) ?? null);
        this.news.set(
          `${followed} ${followed === 1 ? 'item follows' : 'items follow'}.${kept.length > 0 ? ` Kept as their own, since stock has moved: ${kept.join(', ')}.` : ''}`,
        );
      },
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }
}
