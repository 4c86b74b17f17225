/** Set-up: where each thing is found, by group or by its words, with the thing beside. */
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { RouterLink, RouterLinkActive, RouterOutlet } from '@angular/router';
import { Store } from '@ngrx/store';
import { sessionFeature } from '../client/session.state';
import { TextField } from '../ui/text-field';
import { foundIn, PLACES } from './set-up-places';

@Component({
  imports: [RouterLink, RouterLinkActive, RouterOutlet, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <nav aria-label="In the set-up">
      <t-text type="search" label="Find in the set-up" placeholder="Find in the set-up" [value]="words()" (valueChange)="words.set($event)" />
      @for (group of groups(); track group.name) {
        <h2>{{ group.name }}</h2>
        @for (place of group.places; track place.path) {
          <a
            [routerLink]="place.path"
            routerLinkActive="here"
            [routerLinkActiveOptions]="{ exact: place.path === '/set-up' }"
            ariaCurrentWhenActive="page"
            >{{ place.name }}</a
          >
        }
      } @empty {
        <p class="quiet">Nothing is called so here.</p>
      }
    </nav>
    <div class="place"><router-outlet /></div>
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: 200px minmax(0, 1fr);
      height: 100%;
      min-height: 0;
    }
    nav {
      display: flex;
      flex-direction: column;
      gap: 1px;
      padding: 12px;
      overflow: auto;
      background: var(--surface);
      border-right: 1px solid var(--line);
    }
    h2 {
      margin: 14px 0 2px;
      font-size: 12px;
      font-weight: 400;
      color: var(--quiet);
    }
    a {
      padding: 3px 8px;
      color: var(--ink);
      border-left: 3px solid transparent;
    }
    a.here {
      background: var(--chosen);
      border-color: var(--supply);
    }
    .place {
      min-height: 0;
      overflow: auto;
    }
    @media (max-width: 720px) {
      :host {
        grid-template-columns: minmax(0, 1fr);
        grid-template-rows: auto minmax(0, 1fr);
      }
      nav {
        flex-direction: row;
        flex-wrap: wrap;
        gap: 2px 10px;
      }
      nav t-text,
      h2 {
        flex-basis: 100%;
        margin: 0;
      }
    }
  `,
})
export class SetupFrame {
  private readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly words = signal('');
  protected readonly groups = computed(() => foundIn(PLACES, this.words(), this.rights()));
}
