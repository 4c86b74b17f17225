/** Everybody's tokens for programs: whose they are, what they may, when they were used; revoked at once. */
import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { RouterLink } from '@angular/router';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type EveryTokenView } from '@terrace/contract';
import { ApiClient, problemOf } from '../client/api-client';
import { MomentPipe } from '../ui/format';
import { Refused } from '../ui/refusal';
import { Sheet } from '../ui/sheet';
import { deskOf } from './desk';

@Component({
  imports: [MomentPipe, NzButtonModule, Refused, RouterLink, Sheet],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <h1>Programs</h1>
      <p class="quiet">
        A program asks under somebody’s name, and may what they may at that moment, or less. Everybody makes their own under
        <a routerLink="/me">Your password and sessions</a>.
      </p>
      <t-refusal [problem]="desk.problem()" />
      <t-sheet>
        <thead>
          <tr>
            <th>Whose</th>
            <th>For</th>
            <th>May</th>
            <th>Until</th>
            <th>Used last</th>
            <th><span class="sr">Revoke</span></th>
          </tr>
        </thead>
        <tbody>
          @for (each of desk.view()?.tokens; track each.id) {
            <tr>
              <td>{{ each.owner }}</td>
              <td>{{ each.name }}</td>
              <td>{{ words(each) }}</td>
              <td>{{ each.expires | moment }}</td>
              <td>{{ each.lastUse ? (each.lastUse | moment) : 'never' }}</td>
              <td>
                @if (desk.may()) {
                  <button nz-button type="button" class="act small" (click)="revoke(each.id)">Revoke</button>
                }
              </td>
            </tr>
          } @empty {
            <tr>
              <td colspan="6" class="quiet">No program has a token.</td>
            </tr>
          }
        </tbody>
      </t-sheet>
    </div>
  `,
})
export class ProgramsPage {
  private readonly client = inject(ApiClient);
  protected readonly desk = deskOf(api.setup.everyToken, { right: 'setup.people' });

  protected words({ rights }: EveryTokenView['tokens'][number]): string {
    if (rights === null) return 'all that they may';
    return rights.every((right) => right.endsWith('.see')) ? 'look only' : `${rights.length} rights`;
  }

  protected revoke(id: number): void {
    this.client.call(api.setup.dropTokenOf, { params: { id } }).subscribe({
      next: (view) => this.desk.view.set(view),
      error: (error: unknown) => this.desk.problem.set(problemOf(error)),
    });
  }
}
