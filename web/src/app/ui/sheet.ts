/** A small table: its head and rows are written within, `<t-sheet><thead>…</thead><tbody>…</tbody></t-sheet>`; the look is ours. */
import { ChangeDetectionStrategy, Component } from '@angular/core';
import { NzTableModule } from 'ng-zorro-antd/table';

@Component({
  selector: 't-sheet',
  imports: [NzTableModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<nz-table nzTemplateMode [nzShowPagination]="false" [nzFrontPagination]="false"><ng-content /></nz-table>`,
  styles: ':host { display: block; min-width: 0; }',
})
export class Sheet {}
