/** What is said where there is nothing: what belongs there, and the first step. */
import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import { NzEmptyModule } from 'ng-zorro-antd/empty';

@Component({
  selector: 't-empty',
  imports: [NzEmptyModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <nz-empty [nzNotFoundImage]="drawing" [nzNotFoundContent]="words()" [nzNotFoundFooter]="step" />
    <ng-template #drawing
      ><svg viewBox="0 0 64 28" width="64" height="28" aria-hidden="true"><path d="M2 26h16v-8h16v-8h16V2h12" /></svg
    ></ng-template>
    <ng-template #step><ng-content /></ng-template>
  `,
  styles: ':host { display: block; } path { fill: none; stroke: var(--line-strong); stroke-width: 2; }',
})
export class Empty {
  readonly words = input.required<string>();
}
