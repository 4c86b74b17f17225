/** The audit log: who came in and who did not, what was refused, set up and taken out. */
import { ChangeDetectionStrategy, Component } from '@angular/core';
import { VIEWS, api } from '@terrace/contract';
import { Grid } from '../ui/grid';
import type { GridColumn } from '../ui/grid-cells';
import { auditWords, outcomeWords } from './audit-words';

@Component({
  imports: [Grid],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h1 class="sr">Audit log</h1>
    <t-grid name="audit" [route]="route" [columns]="columns" [views]="views" emptyWords="Nothing of this kind has happened." />
  `,
  styles: ':host { display: block; height: 100%; }',
})
export class AuditPage {
  protected readonly route = api.platform.audit;
  protected readonly views = VIEWS.audit;
  protected readonly columns: readonly GridColumn[] = [
    { field: 'at', title: 'When', kind: 'moment', width: 108 },
    { field: 'what', title: 'What', kind: 'text', width: 156, says: (row) => auditWords(row['what']) },
    { field: 'who', title: 'Who', kind: 'text', width: 150, lacking: () => 'nobody known' },
    { field: 'address', title: 'From', kind: 'code', width: 128 },
    { field: 'outcome', title: 'Outcome', kind: 'text', width: 122, says: (row) => outcomeWords(row['outcome']) },
    { field: 'detail', title: 'Detail', kind: 'text', width: 170 },
    { field: 'route', title: 'Asked for', kind: 'code' },
    { field: 'times', title: 'Times', kind: 'count', width: 70 },
  ];
}
