/** What the catalogue stands on: groups with their defaults, units, calendars, currencies, own fields. */
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, customRecords, customTypes, type AnyRoute, type BodyIn, type GroundView } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { Choices } from '../client/choices';
import { sessionFeature } from '../client/session.state';
import { Labelled } from '../ui/labelled';
import { Refused } from '../ui/refusal';
import { GroundGroups } from './ground-groups';
import { InCurrencyPipe } from '../ui/money';
import { TextArea, TextField } from '../ui/text-field';
import { CheckField } from '../ui/check-field';
import { SelectField, SelectOption } from '../ui/select-field';
import { Sheet } from '../ui/sheet';
import { OneOfField } from '../ui/one-of';

const TABS = ['Groups', 'Units', 'Currencies', 'Calendars', 'Customer groups and tax', 'Own fields'] as const;
const RECORDS: Readonly<Record<string, string>> = {
  item: 'items',
  customer: 'customers',
  supplier: 'suppliers',
  customerOrder: 'customer orders',
  purchaseOrder: 'purchase orders',
};
const DAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];

@Component({
  imports: [
    OneOfField,
    Sheet,
    NzButtonModule,
    TextArea,
    CheckField,
    SelectField,
    SelectOption,
    TextField,
    InCurrencyPipe,
    Labelled,
    Refused,
    GroundGroups,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './ground.page.html',
  styleUrl: './item-edit.page.less',
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
  protected readonly records = customRecords;
  protected readonly types = customTypes;
  protected readonly days = DAYS;
  protected readonly fields = computed(() => this.problem()?.fields ?? {});
  constructor() {
    this.client.call(api.catalogue.getGround).subscribe({
      next: (ground) => this.ground.set(ground),
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }

  protected recordWords(record: string): string {
    return RECORDS[record] ?? record;
  }

  protected turn(tab: (typeof TABS)[number]): void {
    this.tab.set(tab);
    this.problem.set(null);
    this.news.set('');
  }

  protected take(ground: GroundView): void {
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

  protected blank(...boxes: readonly TextField[]): () => void {
    return () => boxes.forEach((box) => box.value.set(''));
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
