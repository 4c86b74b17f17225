/** What the catalogue stands on: groups with their defaults, units, calendars, currencies, own fields. */
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { Store } from '@ngrx/store';
import { api, customRecords, customTypes, givenFields, type AnyRoute, type BodyIn, type GroundView } from '@terrace/contract';
import type { GIVEN } from '@terrace/core';
import { givenBy, type Group } from '@terrace/core';
import { ApiClient, problemOf, type Problem } from '../shell/api-client';
import { Choices } from '../shell/choices';
import { sessionFeature } from '../shell/session.state';
import { Labelled } from '../ui/labelled';
import { Refused } from '../ui/refusal';
import { CHOICES, givenWords } from './given-words';

const TABS = ['Groups', 'Units', 'Currencies', 'Calendars', 'Customer groups and tax', 'Own fields'] as const;
const NAMES: Readonly<Record<string, string>> = {
  kind: 'Kind',
  unit: 'Unit',
  tracking: 'Tracked',
  costing: 'Costed by',
  discountCeiling: 'Discount ceiling, %',
  shelfLifeDays: 'Shelf life, days',
  restLifeDays: 'Left when it ships, days',
  storageOverhead: 'Storage overhead, % a year',
  planning: 'Planned',
};
const RECORDS: Readonly<Record<string, string>> = {
  item: 'items',
  customer: 'customers',
  supplier: 'suppliers',
  customerOrder: 'customer orders',
  purchaseOrder: 'purchase orders',
};
const DAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];

type GroundGroup = GroundView['groups'][number];

@Component({
  imports: [Labelled, Refused],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './ground.page.html',
  styleUrls: ['./item-edit.page.less', '../bulk/import.page.less'],
})
export class GroundPage {
  private readonly client = inject(ApiClient);
  private readonly choices = inject(Choices);
  protected readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly tabs = TABS;
  protected readonly tab = signal<(typeof TABS)[number]>('Groups');
  protected readonly ground = signal<GroundView | null>(null);
  protected readonly problem = signal<Problem | null>(null);
  protected readonly news = signal('');
  protected readonly group = signal<GroundGroup | null>(null);
  protected readonly fresh = signal(false);
  protected readonly givenFields = givenFields;
  protected readonly records = customRecords;
  protected readonly types = customTypes;
  protected readonly days = DAYS;
  protected readonly fields = computed(() => this.problem()?.fields ?? {});
  /** The groups as a tree, each with its depth. */
  protected readonly tree = computed((): readonly (GroundGroup & { depth: number })[] => {
    const groups = this.ground()?.groups ?? [];
    const below = (parent: string | null, depth: number): (GroundGroup & { depth: number })[] =>
      depth > groups.length
        ? []
        : groups.filter((each) => each.parent === parent).flatMap((each) => [{ ...each, depth }, ...below(each.code, depth + 1)]);
    return below(null, 0);
  });
  /** What the chosen group would take from those above. */
  protected readonly above = computed(() => {
    const groups = new Map<string, Group>((this.ground()?.groups ?? []).map((each) => [each.code, { ...each, defaults: each.defaults }]));
    const parent = this.group()?.parent;
    return parent ? givenBy(parent, groups) : new Map<(typeof GIVEN)[number], { value: string; group: string }>();
  });

  constructor() {
    this.client.call(api.catalogue.getGround).subscribe({
      next: (ground) => {
        this.ground.set(ground);
        this.group.set(ground.groups[0] ?? null);
      },
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }

  protected nameOf(field: string): string {
    return NAMES[field] ?? field;
  }

  /** What a default can be chosen from; nothing where it is typed. */
  protected choicesFor(field: string): readonly string[] {
    return field === 'unit' ? (this.ground()?.units.map((each) => each.code) ?? []) : (CHOICES[field] ?? []);
  }

  protected words(value: string | undefined): string {
    return givenWords(value ?? '');
  }

  protected recordWords(record: string): string {
    return RECORDS[record] ?? record;
  }

  protected begin(): void {
    const accounts = this.ground()?.groups[0];
    this.fresh.set(true);
    this.group.set({
      code: '',
      name: '',
      parent: null,
      inventoryAccount: accounts?.inventoryAccount ?? '',
      costOfSalesAccount: accounts?.costOfSalesAccount ?? '',
      revenueAccount: accounts?.revenueAccount ?? '',
      defaults: {},
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
        this.take(ground);
        this.fresh.set(false);
        this.group.set(ground.groups.find((each) => each.code === group.code) ?? null);
        this.news.set(
          `${followed} ${followed === 1 ? 'item follows' : 'items follow'}.${kept.length > 0 ? ` Kept as their own, since stock has moved: ${kept.join(', ')}.` : ''}`,
        );
      },
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }

  private take(ground: GroundView): void {
    this.ground.set(ground);
    this.choices.refresh();
  }

  /** Saves anything else of the ground; what is typed stays where it is refused. */
  protected save<R extends AnyRoute>(route: R, body: BodyIn<R>, done: () => void = () => undefined): void {
    this.problem.set(null);
    this.news.set('');
    this.client.call(route, { body }).subscribe({
      next: (ground) => {
        this.take(ground as GroundView);
        this.news.set('Kept.');
        done();
      },
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }

  protected readonly api = api.catalogue;

  protected daysOf(text: string): string[] {
    return text.split(/[\s,;]+/).filter(Boolean);
  }

  protected workdays(chosen: readonly number[], day: number, on: boolean): number[] {
    return on ? [...chosen, day].sort((a, b) => a - b) : chosen.filter((each) => each !== day);
  }

  protected blank(...boxes: readonly HTMLInputElement[]): () => void {
    return () => boxes.forEach((box) => (box.value = ''));
  }

  protected recordOf(text: string): (typeof customRecords)[number] {
    return customRecords.find((each) => each === text) ?? 'item';
  }

  protected typeOf(text: string): (typeof customTypes)[number] {
    return customTypes.find((each) => each === text) ?? 'text';
  }

  protected choicesOf(text: string): string[] {
    return text
      .split(',')
      .map((each) => each.trim())
      .filter(Boolean);
  }
}
