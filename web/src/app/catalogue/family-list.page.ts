/** Families: items that differ by size, colour and the like. */
import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { api } from '@terrace/contract';
import { sessionFeature } from '../client/session.state';
import { Grid } from '../ui/grid';
import type { GridColumn, GridRow } from '../ui/grid-cells';

@Component({
  imports: [Grid, RouterLink],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h1 class="sr">Families</h1>
    <t-grid
      name="families"
      [route]="route"
      [columns]="columns"
      [topics]="['setup']"
      emptyWords="No family yet: set one up for items that differ by size, colour or the like."
      (opened)="open($event)"
    >
      @if (rights().has('catalogue.edit')) {
        <a tool class="act first small" routerLink="/catalogue/families/new">New family</a>
      }
    </t-grid>
  `,
  styles: ':host { display: block; height: 100%; }',
})
export class FamilyListPage {
  private readonly router = inject(Router);
  protected readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly route = api.catalogue.listFamilies;
  protected readonly columns: readonly GridColumn[] = [
    { field: 'code', title: 'Family', kind: 'code', width: 140 },
    { field: 'description', title: 'Description', kind: 'text' },
    { field: 'group', title: 'Group', kind: 'text', width: 140 },
    { field: 'items', title: 'Items made', kind: 'count', width: 120 },
  ];

  protected open(row: GridRow): void {
    void this.router.navigateByUrl(`/catalogue/families/${row.id}`);
  }
}
