/** What the catalogue stands on: groups with their defaults, units, calendars, currencies, own fields. */
import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { api, type GroundView } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { Choices } from '../client/choices';
import { Leaving } from '../ui/forms';
import { OneOfField } from '../ui/one-of';
import { Refused } from '../ui/refusal';
import { GroundCalendars } from './ground-calendars';
import { GroundCurrencies } from './ground-currencies';
import { GroundFields } from './ground-fields';
import { GroundGroups } from './ground-groups';
import { GroundParties } from './ground-parties';
import { GroundUnits } from './ground-units';

const TABS = ['Groups', 'Units', 'Currencies', 'Calendars', 'Customers, tax, terms', 'Own fields'] as const;

@Component({
  imports: [OneOfField, Refused, GroundCalendars, GroundCurrencies, GroundFields, GroundGroups, GroundParties, GroundUnits],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './ground.page.html',
  styleUrl: './item-edit.page.less',
})
export class GroundPage {
  private readonly client = inject(ApiClient);
  private readonly choices = inject(Choices);
  private readonly leaving = inject(Leaving);
  protected readonly tabs = TABS;
  protected readonly tab = signal<(typeof TABS)[number]>('Groups');
  protected readonly ground = signal<GroundView | null>(null);
  protected readonly problem = signal<Problem | null>(null);
  protected readonly news = signal('');

  constructor() {
    this.client.call(api.catalogue.getGround).subscribe({
      next: (ground) => this.ground.set(ground),
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }

  /** What is typed belongs to what is looked at: another is only come to when that may be left. */
  protected async turn(tab: (typeof TABS)[number]): Promise<void> {
    if (!(await this.leaving.ask())) return;
    this.tab.set(tab);
    this.news.set('');
  }

  protected take(ground: GroundView): void {
    this.ground.set(ground);
    this.choices.refresh();
  }

  protected kept(ground: GroundView): void {
    this.take(ground);
    this.news.set('Kept.');
  }
}
