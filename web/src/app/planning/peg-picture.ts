/** Pegging as a tree: what a supply serves, and what that serves in turn; each opens its document. */
import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { RouterLink } from '@angular/router';
import { NzButtonModule } from 'ng-zorro-antd/button';
import type { PegView } from '@terrace/contract';
import { DocumentOpener } from '../shell/open-document';
import { grouped, shortDay } from '../ui/format';

interface Row {
  readonly key: string;
  readonly peg: PegView;
  readonly depth: number;
  readonly words: string;
}

function upWords(peg: PegView): string {
  return `${grouped(peg.quantity)} ${peg.kind === 'demand' ? '' : `to ${peg.source ?? ''}, `}wanted ${shortDay(peg.wanted)}`;
}

function downWords(peg: PegView): string {
  const figure = `${grouped(peg.quantity)} ${peg.unit}`;
  if (peg.kind === 'stock') return `${figure} in stock`;
  return peg.kind === 'receipt' ? `${figure} ${peg.code}, due ${shortDay(peg.due)}` : `${peg.source ?? ''} ${figure}, due ${shortDay(peg.due)}`;
}

@Component({
  selector: 't-peg-picture',
  imports: [NzButtonModule, RouterLink],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <ul>
      @for (row of rows(); track row.key) {
        <li [style.--depth]="row.depth">
          <span class="joint" aria-hidden="true"></span>
          <span [class]="'box ' + row.peg.kind">
            @if (row.peg.kind === 'suggestion' || row.peg.kind === 'stock') {
              <a class="code" [routerLink]="['/catalogue/items', row.peg.itemId]">{{ row.peg.code }}</a>
            } @else if (row.peg.id.startsWith('forecast ')) {
              forecast of <span class="code">{{ row.peg.code }}</span>
            } @else {
              <button nz-button type="button" class="act plain small code" (click)="opener.open(row.peg.id)">{{ row.peg.id }}</button>
            }
            {{ row.words }}
          </span>
        </li>
      } @empty {
        <li class="quiet">{{ way() === 'up' ? 'Nothing takes from it: it is kept in stock.' : 'Nothing serves it: it is not supplied.' }}</li>
      }
    </ul>
  `,
  styles: `
    ul {
      list-style: none;
      margin: 0;
      padding: 0;
    }
    li {
      display: flex;
      align-items: center;
      padding: 3px 0 3px calc(var(--depth, 0) * 22px);
      font-size: 13px;
    }
    .joint {
      width: 14px;
      height: 18px;
      margin: -10px 4px 0 0;
      border-left: 2px solid var(--line-strong);
      border-bottom: 2px solid var(--line-strong);
    }
    .box {
      border-left: 4px solid var(--supply);
      background: var(--raised);
      padding: 2px 8px;
    }
    .box.demand {
      border-color: var(--demand);
    }
  `,
})
export class PegPicture {
  readonly pegs = input.required<readonly PegView[]>();
  /** Up to whom it serves, or down to what serves it. */
  readonly way = input<'up' | 'down'>('up');
  protected readonly opener = inject(DocumentOpener);
  protected readonly rows = computed((): readonly Row[] => {
    const rows: Row[] = [];
    const walk = (pegs: readonly PegView[], depth: number): void => {
      for (const peg of pegs) {
        const late = peg.ready === null ? ', without all that it needs' : peg.ready > peg.wanted ? `, late: there ${shortDay(peg.ready)}` : '';
        rows.push({
          key: `${rows.length}`,
          peg,
          depth,
          words: `${this.way() === 'up' ? upWords(peg) : downWords(peg)}${late}`,
        });
        walk(peg.below, depth + 1);
      }
    };
    walk(this.pegs(), 0);
    return rows;
  });
}
