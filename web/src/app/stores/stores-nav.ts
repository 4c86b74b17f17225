/** The ways through the stores, on top of each of its pages. */
import { ChangeDetectionStrategy, Component } from '@angular/core';
import { RouterLink, RouterLinkActive } from '@angular/router';

const WAYS = [
  { path: '/stores', name: 'Stock' },
  { path: '/stores/lots', name: 'Lots' },
  { path: '/stores/serials', name: 'Serial numbers' },
  { path: '/stores/transfers', name: 'Transfers' },
  { path: '/stores/adjustments', name: 'Adjustments' },
  { path: '/stores/moves', name: 'Moves' },
  { path: '/stores/worth', name: 'Worth' },
  { path: '/stores/labels', name: 'Labels' },
] as const;

@Component({
  selector: 't-stores-nav',
  imports: [RouterLink, RouterLinkActive],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <nav aria-label="In the stores">
      @for (way of ways; track way.path) {
        <a
          [routerLink]="way.path"
          routerLinkActive="here"
          [routerLinkActiveOptions]="{ exact: way.path === '/stores' }"
          ariaCurrentWhenActive="page"
          >{{ way.name }}</a
        >
      }
    </nav>
  `,
  styles: `
    nav {
      display: flex;
      flex-wrap: wrap;
      gap: 2px 16px;
      padding: 6px 12px 0;
      border-bottom: 1px solid var(--line);
      background: var(--surface);
    }
    a {
      padding: 2px 0 5px;
      color: var(--quiet);
      border-bottom: 3px solid transparent;
      font-size: 13px;
    }
    a.here {
      color: var(--ink);
      border-color: var(--supply);
    }
  `,
})
export class StoresNav {
  protected readonly ways = WAYS;
}
