/** A few words more about something, shown when it is pointed at and read out with it: `<span tTip="Follows its group">`. */
import { Directive, input } from '@angular/core';
import { NzTooltipDirective } from 'ng-zorro-antd/tooltip';

@Directive({
  selector: '[tTip]',
  hostDirectives: [{ directive: NzTooltipDirective, inputs: ['nzTooltipTitle: tTip', 'nzTooltipPlacement: tipPlacement'] }],
  host: { '[attr.aria-description]': 'tTip() || null' },
})
export class Tip {
  readonly tTip = input<string | null | undefined>('');
}
