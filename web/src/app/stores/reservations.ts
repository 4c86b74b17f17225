/** Who holds reserved stock, each to be released here by those who may. */
import { ChangeDetectionStrategy, Component, inject, input, output } from '@angular/core';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { type AnswerOf, type api } from '@terrace/contract';
import { sessionFeature } from '../client/session.state';
import { pageOf } from '../ui/documents';
import { GroupedPipe } from '../ui/format';
import { Sheet } from '../ui/sheet';

@Component({
  selector: 't-holders',
  imports: [Sheet, NzButtonModule, RouterLink, GroupedPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-sheet>
      <tbody>
        @for (each of holders(); track each.id) {
          <tr>
            <td>
              <a class="code" [routerLink]="page(each.kind, each.documentId)">{{ each.document }}</a>
            </td>
            <td>{{ each.warehouse }}</td>
            <td class="figure">{{ each.quantity | grouped }}</td>
            <td>
              @if (rights().has('stores.release')) {
                <button nz-button type="button" class="act small" (click)="released.emit(each.id)">Release</button>
              } @else {
                <span class="quiet">sales or stores can release it</span>
              }
            </td>
          </tr>
        } @empty {
          <tr>
            <td class="quiet">Nothing is reserved.</td>
          </tr>
        }
      </tbody>
    </t-sheet>
  `,
})
export class HoldersList {
  readonly holders = input.required<AnswerOf<typeof api.stores.holders>>();
  readonly released = output<number>();
  protected readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly page = pageOf;
}
