/** What is short enough to choose from a list, and the working warehouse. Fetched once, and again when any of it changes. */
import { Injectable, computed, inject, signal } from '@angular/core';
import { Store } from '@ngrx/store';
import { api, type AnswerOf, type LiveTopic } from '@terrace/contract';
import { ApiClient } from './api-client';
import { whenHeard } from './heard';
import { sessionFeature } from './session.state';

/** What changes any of it. */
const OF_WHAT: readonly LiveTopic[] = ['setup', 'customer', 'supplier'];
type All = AnswerOf<typeof api.catalogue.choices>;
/** Where nothing is set up yet, or it can't be had. */
export const NO_CHOICES: All = {
  warehouses: [],
  bins: [],
  customers: [],
  suppliers: [],
  groups: [],
  units: [],
  reasons: [],
  currencies: [],
  customerGroups: [],
  taxCodes: [],
  houseTaxCode: null,
  paymentTerms: [],
  calendars: [],
  priceLists: [],
  people: [],
  fields: [],
};

@Injectable({ providedIn: 'root' })
export class Choices {
  private readonly client = inject(ApiClient);
  private readonly chosen = inject(Store).selectSignal(sessionFeature.selectWarehouseId);
  private readonly known = signal<All>(NO_CHOICES);
  readonly all = this.known.asReadonly();
  /** The working warehouse: the one chosen, else the first. */
  readonly warehouseId = computed(() => this.chosen() ?? this.known().warehouses[0]?.id ?? 0);

  constructor() {
    this.refresh();
    whenHeard(
      () => OF_WHAT,
      () => this.refresh(),
    );
  }

  refresh(): void {
    this.client.beside(api.catalogue.choices, {}, NO_CHOICES).subscribe((all) => this.known.set(all));
  }
}
