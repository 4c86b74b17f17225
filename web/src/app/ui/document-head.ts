/** The head of a document: its number, leading to its own page, its state, and what somebody else has just done to it. */
import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { RouterLink } from '@angular/router';
import { pageOf } from './documents';
import { State } from './state';

@Component({
  selector: 't-document-head',
  imports: [RouterLink, State],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="acts">
      <h1>
        @if (page(); as address) {
          <a [routerLink]="address">{{ number() }}</a>
        } @else {
          {{ number() }}
        }
      </h1>
      @if (state() !== '') {
        <t-state [state]="state()" />
      }
      <ng-content />
      @if (news() !== '') {
        <span class="quiet">{{ news() }}, just now</span>
      }
    </div>
  `,
})
export class DocumentHead {
  readonly kind = input.required<string>();
  readonly id = input.required<number>();
  readonly number = input.required<string>();
  readonly state = input('');
  readonly news = input('');
  /** Whether this is its own page already. */
  readonly wide = input(false);
  protected readonly page = computed(() => (this.wide() ? null : pageOf(this.kind(), this.id())));
}
