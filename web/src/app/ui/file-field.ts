/** A file of somebody's own: chosen, or dropped on it. */
import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { NzUploadModule, type NzUploadFile } from 'ng-zorro-antd/upload';

@Component({
  selector: 't-file',
  imports: [NzButtonModule, NzUploadModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <nz-upload nzType="drag" [nzAccept]="accept()" [nzShowUploadList]="false" [nzBeforeUpload]="take">
      <span class="act" [class.first]="first()" [class.small]="!first()">{{ words() }}</span>
    </nz-upload>
  `,
  styles: ':host { display: inline-block; }',
})
export class FileField {
  readonly words = input.required<string>();
  /** Endings that can be chosen: `.csv,.xlsx`. */
  readonly accept = input.required<string>();
  /** Whether it is what is most likely wanted next. */
  readonly first = input(false);
  readonly chosen = output<File>();

  /** Sending it is the screen's business. */
  protected readonly take = (file: NzUploadFile): boolean => {
    this.chosen.emit(file as unknown as File);
    return false;
  };
}
