/** Item groups as a tree: what each states, and what it takes from those above. */
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, output, signal, untracked } from '@angular/core';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, givenFields, type BodyIn, type GivenField, type GroundView } from '@terrace/contract';
import { givenBy, lineage, ruleGivenBy, type Group, type Origin, type RuleTexts } from '@terrace/core';
import { ApiClient } from '../client/api-client';
import { sessionFeature } from '../client/session.state';
import { Control, disabled, entryOf } from '../ui/forms';
import { Labelled } from '../ui/labelled';
import { Refused } from '../ui/refusal';
import { RuleTextsForm } from '../ui/rule-texts';
import { AccountChange } from './account-change';
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

/** A group as it is typed: every default has a text, empty where it says nothing. */
interface GroupDraft {
  readonly code: string;
  readonly name: string;
  readonly parent: string;
  readonly inventoryAccount: string;
  readonly costOfSalesAccount: string;
  readonly revenueAccount: string;
  readonly defaults: Readonly<Record<GivenField, string>>;
  readonly planning: RuleTexts;
}

const UNSAID = Object.fromEntries(givenFields.map((field) => [field, ''])) as Record<GivenField, string>;
const EMPTY: GroupDraft = {
  code: '',
  name: '',
  parent: '',
  inventoryAccount: '',
  costOfSalesAccount: '',
  revenueAccount: '',
  defaults: UNSAID,
  planning: {},
};

function draftOf({ code, name, parent, inventoryAccount, costOfSalesAccount, revenueAccount, defaults, planning }: GroundGroup): GroupDraft {
  return {
    code,
    name,
    parent: parent ?? '',
    inventoryAccount,
    costOfSalesAccount,
    revenueAccount,
    defaults: { ...UNSAID, ...defaults },
    planning,
  };
}

function bodyOf({ parent, defaults, ...draft }: GroupDraft, version: number | null): BodyIn<typeof api.catalogue.saveGroup> {
  return {
    ...draft,
    parent: parent === '' ? null : parent,
    defaults: Object.fromEntries(Object.entries(defaults).filter(([, value]) => value !== '')),
    ...(version === null ? {} : { version }),
  };
}

@Component({
  selector: 't-ground-groups',
  imports: [AccountChange, Control, NzButtonModule, SelectField, SelectOption, TextField, Labelled, Refused, RuleTextsForm],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './ground-groups.html',
  styleUrl: './item-edit.page.less',
})
export class GroundGroups {
  readonly ground = input.required<GroundView>();
  readonly saved = output<GroundView>();
  private readonly client = inject(ApiClient);
  protected readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly news = signal('');
  protected readonly givenFields = givenFields;
  /** The code of the group in hand; nothing for a new one, which is not called anything yet. */
  private readonly at = signal<string | null>(null);
  protected readonly fresh = computed(() => this.at() === null);
  protected readonly chosen = computed(() => this.ground().groups.find((each) => each.code === this.at()) ?? null);
  protected readonly draft = signal<GroupDraft>(EMPTY);
  protected readonly entry = entryOf({
    part: () => `group ${this.at() ?? ''}`,
    draft: this.draft,
    route: () => (this.rights().has('catalogue.edit') ? api.catalogue.saveGroup : null),
    body: (draft) => bodyOf(draft, this.chosen()?.version ?? null),
    shape: (path) => {
      disabled(path.code, () => !this.fresh());
    },
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
    const { parent } = this.draft();
    return parent !== '' ? givenBy(parent, groups) : new Map<GivenField, Origin>();
  });

  /** How its items would be planned if it said nothing. */
  protected readonly planningAbove = computed(() => {
    const groups = new Map<string, Group>(this.ground().groups.map((each) => [each.code, each]));
    const { parent } = this.draft();
    return ruleGivenBy({ code: '' }, parent !== '' ? lineage(parent, groups) : []);
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

  constructor() {
    effect(() => {
      const [first] = this.ground().groups;
      if (first && !untracked(this.begun)) untracked(() => this.choose(first));
    });
  }

  private readonly begun = signal(false);

  protected begin(): void {
    const [accounts] = this.ground().groups;
    this.at.set(null);
    this.news.set('');
    this.entry.begin({
      ...EMPTY,
      inventoryAccount: accounts?.inventoryAccount ?? '',
      costOfSalesAccount: accounts?.costOfSalesAccount ?? '',
      revenueAccount: accounts?.revenueAccount ?? '',
    });
  }

  protected choose(group: GroundGroup): void {
    this.begun.set(true);
    this.at.set(group.code);
    this.news.set('');
    this.entry.begin(draftOf(group));
  }

  protected saveGroup(): void {
    const body = bodyOf(this.draft(), this.chosen()?.version ?? null);
    this.entry.send(this.client.call(api.catalogue.saveGroup, { body }), ({ followed, kept, ...ground }) => {
      this.saved.emit(ground);
      const saved = ground.groups.find((each) => each.code === body.code);
      if (saved) this.choose(saved);
      this.news.set(
        `${followed} ${followed === 1 ? 'item follows' : 'items follow'}.${kept.length > 0 ? ` Kept as their own, since stock has moved: ${kept.join(', ')}.` : ''}`,
      );
    });
  }
}
