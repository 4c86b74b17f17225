/** What can be done with a document now: acts as data, drawn alike everywhere, those that can't be undone asked about first. */
import { ChangeDetectionStrategy, Component, Injectable, inject, input, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { Tip } from './tip';

/** What is asked before something that can't be undone. */
export interface Question {
  readonly heading: string;
  readonly consequences: string;
  /** What doing it is called. */
  readonly action: string;
  readonly reasonWanted?: boolean;
}

export interface Act {
  readonly words: string;
  /** Left out where it is false. */
  readonly shown?: boolean;
  /** What is most likely wanted next. */
  readonly first?: boolean;
  readonly disabled?: boolean;
  readonly hint?: string;
  /** Leads to a page of Terrace … */
  readonly page?: readonly (string | number)[];
  /** … opens a paper in a tab of its own … */
  readonly paper?: string;
  /** … or does something; `reason` is what was said where a reason is asked for. */
  readonly act?: (reason: string) => void;
  readonly asks?: Question;
}

/** What is being asked about a document: one question at a time. */
@Injectable()
export class Asking {
  private readonly waiting = signal<Act | null>(null);
  readonly about = this.waiting.asReadonly();

  /** Does it, after its question where it has one. */
  start(act: Act): void {
    if (act.asks) this.waiting.set(act);
    else act.act?.('');
  }

  agree(reason: string): void {
    const act = this.waiting();
    this.waiting.set(null);
    act?.act?.(reason);
  }

  drop(): void {
    this.waiting.set(null);
  }
}

@Component({
  selector: 't-acts',
  imports: [Tip, NzButtonModule, RouterLink],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @for (each of acts(); track each.words) {
      @if (each.shown !== false) {
        @if (each.page) {
          <a class="act" [class.small]="small()" [class.first]="each.first" [routerLink]="each.page">{{ each.words }}</a>
        } @else if (each.paper) {
          <a class="act" [class.small]="small()" [class.first]="each.first" [href]="each.paper" target="_blank">{{ each.words }}</a>
        } @else {
          <button
            nz-button
            type="button"
            class="act"
            [class.small]="small()"
            [class.first]="each.first"
            [disabled]="busy() || each.disabled === true"
            [tTip]="each.hint ?? null"
            (click)="asking.start(each)"
          >
            {{ each.words }}
          </button>
        }
      }
    }
  `,
  styles: ':host { display: contents; }',
})
export class Acts {
  readonly acts = input.required<readonly Act[]>();
  /** While something is being done nothing else can be begun. */
  readonly busy = input(false);
  readonly small = input(false);
  protected readonly asking = inject(Asking);
}
