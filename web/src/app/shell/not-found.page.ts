import { ChangeDetectionStrategy, Component } from '@angular/core';
import { RouterLink } from '@angular/router';

@Component({
  imports: [RouterLink],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template:
    '<div class="page"><h1>There is no such page</h1><p>The link is wrong or old. <a routerLink="/today">Go to Today</a>, or find what you want in the field above.</p></div>',
})
export class NotFoundPage {}
