/** Set-up: people, and the way to the stand-ins and the API. */
import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import { api, type AnswerOf } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { Choices } from '../client/choices';
import { Refused } from '../ui/refusal';
import { Sheet } from '../ui/sheet';

@Component({
  imports: [Sheet, RouterLink, Refused],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <h1>Set-up</h1>
      <t-refusal [problem]="problem()" />
      <div class="acts">
        <a class="act" routerLink="/set-up/outbox">Outbox: mail that was sent</a><a class="act" routerLink="/set-up/api">API: try a route</a>
      </div>
      <section class="pane">
        <h2>People</h2>
        <t-sheet>
          <thead>
            <tr>
              <th>Name</th>
              <th>Signs in as</th>
              <th>Role</th>
            </tr>
          </thead>
          <tbody>
            @for (each of people(); track each.id) {
              <tr>
                <td>{{ each.name }}</td>
                <td class="code">{{ each.login }}</td>
                <td>{{ each.role }}</td>
              </tr>
            }
          </tbody>
        </t-sheet>
      </section>
      <section class="pane">
        <h2>Warehouses and bins</h2>
        <t-sheet>
          <tbody>
            @for (each of choices.all().warehouses; track each.id) {
              <tr>
                <td class="code">{{ each.code }}</td>
                <td>{{ each.name }}</td>
                <td class="quiet">{{ binsOf(each.id) }}</td>
              </tr>
            }
          </tbody>
        </t-sheet>
      </section>
      <section class="pane">
        <h2>Reasons to adjust stock</h2>
        <t-sheet>
          <tbody>
            @for (each of choices.all().reasons; track each.code) {
              <tr>
                <td class="code">{{ each.code }}</td>
                <td>{{ each.name }}</td>
                <td class="quiet">{{ each.noteNeeded ? 'needs a note' : '' }}</td>
              </tr>
            }
          </tbody>
        </t-sheet>
      </section>
    </div>
  `,
})
export class SetupPage {
  protected readonly choices = inject(Choices);
  protected readonly people = signal<AnswerOf<typeof api.platform.users>>([]);
  protected readonly problem = signal<Problem | null>(null);

  constructor() {
    inject(ApiClient)
      .call(api.platform.users)
      .subscribe({ next: (people) => this.people.set(people), error: (error: unknown) => this.problem.set(problemOf(error)) });
  }

  protected binsOf(warehouseId: number): string {
    return this.choices
      .all()
      .bins.filter((each) => each.warehouseId === warehouseId)
      .map((each) => each.code)
      .join(', ');
  }
}
