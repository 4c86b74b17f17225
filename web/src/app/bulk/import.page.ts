/** Files in and out: choose, map, try, look at each row, take. */
import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { importKinds, type ImportKind } from '@terrace/contract';
import { GroupedPipe, MomentPipe } from '../ui/format';
import { FileField } from '../ui/file-field';
import { Refused } from '../ui/refusal';
import { ImportStore } from './import.store';
import { SelectField, SelectOption } from '../ui/select-field';
import { Sheet } from '../ui/sheet';

const WORDS: Readonly<Record<ImportKind, string>> = {
  items: 'Items',
  units: 'Units',
  terms: 'Suppliers’ terms',
  prices: 'Prices',
  customers: 'Customers',
  suppliers: 'Suppliers',
  boms: 'Bills of materials',
  openingStock: 'Opening stock',
};
const STATES: Readonly<Record<string, string>> = {
  read: 'not tried',
  trying: 'being tried',
  tried: 'tried, not taken',
  taking: 'being taken',
  taken: 'taken',
  stopped: 'stopped',
  failed: 'failed',
};

@Component({
  imports: [Sheet, NzButtonModule, FileField, SelectField, SelectOption, Refused, GroupedPipe, MomentPipe],
  providers: [ImportStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './import.page.html',
  styleUrl: './import.page.less',
})
export class ImportPage {
  protected readonly store = inject(ImportStore);
  protected readonly kinds = importKinds;
  protected readonly outcomes = ['added', 'changed', 'refused'] as const;

  protected kindWords(kind: ImportKind): string {
    return WORDS[kind];
  }

  protected stateWords(state: string): string {
    return STATES[state] ?? state;
  }

  protected columnWords(key: string): string {
    return this.store.view()?.columns.find((column) => column.key === key)?.title ?? key;
  }
}
