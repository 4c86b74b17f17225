/** A figure between two ends, moved with mouse or keys. The kit's slider says nothing of itself, so its handle is given name and value. */
import { ChangeDetectionStrategy, Component, ElementRef, afterRenderEffect, inject, input, model } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { NzSliderModule } from 'ng-zorro-antd/slider';

@Component({
  selector: 't-slider',
  imports: [FormsModule, NzSliderModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  // The kit knows the arrows only.
  host: { '(keydown.home)': 'to($event, min())', '(keydown.end)': 'to($event, max())' },
  template: `
    <nz-slider
      [ngModel]="value()"
      [ngModelOptions]="{ standalone: true }"
      [nzMin]="min()"
      [nzMax]="max()"
      [nzStep]="step()"
      nzTooltipVisible="never"
      (ngModelChange)="value.set($event)"
    />
  `,
  styles: ':host { display: block; min-width: 120px; }',
})
export class SliderField {
  readonly value = model.required<number>();
  readonly label = input.required<string>();
  readonly min = input(0);
  readonly max = input.required<number>();
  readonly step = input(1);
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);

  protected to(event: Event, value: number): void {
    event.preventDefault();
    this.value.set(value);
  }

  constructor() {
    afterRenderEffect(() => {
      const handle = this.host.nativeElement.querySelector('.ant-slider-handle');
      const said = {
        role: 'slider',
        'aria-label': this.label(),
        'aria-valuemin': this.min(),
        'aria-valuemax': this.max(),
        'aria-valuenow': this.value(),
      };
      for (const [name, value] of Object.entries(said)) handle?.setAttribute(name, String(value));
    });
  }
}
