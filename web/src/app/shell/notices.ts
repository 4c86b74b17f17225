/** Notices: what the system tells this person, each with a link to what it is about; routine ones are gathered. */
import { OverlayModule } from '@angular/cdk/overlay';
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { Router, RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { LucideChevronDown, LucideChevronRight } from '@lucide/angular';
import { NzBadgeModule } from 'ng-zorro-antd/badge';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { filter } from 'rxjs';
import { api, type AnswerOf, type Notice } from '@terrace/contract';
import { ApiClient } from '../client/api-client';
import { whenMissed } from '../client/heard';
import { liveFeature } from '../client/live.state';
import { pageOf } from '../ui/documents';
import { MomentPipe } from '../ui/format';
import { gathered, type NoticeLine } from './gathered-notices';

@Component({
  selector: 't-notices',
  imports: [LucideChevronDown, LucideChevronRight, NzBadgeModule, NzButtonModule, OverlayModule, RouterLink, MomentPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <button
      nz-button
      type="button"
      class="act plain"
      cdkOverlayOrigin
      #origin="cdkOverlayOrigin"
      [attr.aria-expanded]="open()"
      [attr.aria-label]="told().unread + ' unread notices'"
      (click)="open.set(!open())"
    >
      Notices
      @if (told().unread > 0) {
        <nz-badge nzStandalone [nzCount]="told().unread" [nzOverflowCount]="999" />
      }
    </button>
    <ng-template
      cdkConnectedOverlay
      [cdkConnectedOverlayOrigin]="origin"
      [cdkConnectedOverlayOpen]="open()"
      [cdkConnectedOverlayPositions]="beneath"
      (overlayOutsideClick)="pressedOutside($event, origin.elementRef.nativeElement)"
      (detach)="open.set(false)"
    >
      <div class="list" role="region" aria-label="Notices">
        <div class="acts head">
          <button nz-button type="button" class="act small" [disabled]="told().unread === 0" (click)="read('all')">Mark all as read</button>
          <a class="act small" routerLink="/notices" (click)="open.set(false)">Older ones, and which to get</a>
        </div>
        @for (line of lines(); track line.key) {
          <div class="line" [class.fresh]="!line.read">
            <span class="quiet">{{ line.at | moment }}</span>
            <button
              nz-button
              type="button"
              class="act plain"
              [attr.aria-expanded]="line.notices.length > 1 ? shown() === line.key : null"
              (click)="take(line)"
            >
              {{ line.words }}
              @if (line.notices.length > 1) {
                @if (shown() === line.key) {
                  <svg lucideChevronDown [size]="14"></svg>
                } @else {
                  <svg lucideChevronRight [size]="14"></svg>
                }
              }
            </button>
          </div>
          @if (shown() === line.key) {
            @for (each of line.notices; track each.id) {
              <div class="line inner" [class.fresh]="!each.read">
                <span class="quiet">{{ each.at | moment }}</span>
                <button nz-button type="button" class="act plain" (click)="go(each)">{{ each.text }}</button>
              </div>
            }
          }
        } @empty {
          <p class="quiet">Nothing to tell yet.</p>
        }
      </div>
    </ng-template>
  `,
  styles: `
    .list {
      width: min(420px, 94vw);
      max-height: 70vh;
      overflow: auto;
      padding: 6px;
      background: var(--surface);
      border: 1px solid var(--line-strong);
      box-shadow: 0 4px 14px rgb(0 0 0 / 0.18);
    }
    .line {
      display: grid;
      grid-template-columns: 92px 1fr;
      gap: 8px;
      align-items: baseline;
      padding: 3px 6px;
      font-size: 13px;
      border-bottom: 1px solid var(--line);
      .act {
        height: auto;
        min-height: 24px;
        padding: 2px 0;
        justify-content: flex-start;
        font: inherit;
        text-align: left;
        white-space: normal;
      }
    }
    .inner {
      padding-left: 18px;
      background: var(--raised);
    }
    .fresh {
      background: var(--chosen);
      .act {
        font-weight: 600;
      }
    }
    .head {
      padding: 2px 6px 8px;
    }
  `,
})
export class Notices {
  private readonly client = inject(ApiClient);
  private readonly router = inject(Router);
  protected readonly told = signal<AnswerOf<typeof api.platform.notices>>({ unread: 0, rows: [] });
  protected readonly lines = computed(() => gathered(this.told().rows, new Date()));
  protected readonly open = signal(false);
  /** The line whose notices are shown one by one. */
  protected readonly shown = signal('');
  protected readonly beneath = [
    { originX: 'end' as const, originY: 'bottom' as const, overlayX: 'end' as const, overlayY: 'top' as const, offsetY: 4 },
  ];

  constructor() {
    this.load();
    inject(Store)
      .select(liveFeature.selectLast)
      .pipe(
        filter((event) => event?.topic === 'notice'),
        takeUntilDestroyed(),
      )
      .subscribe(() => this.load());
    whenMissed(() => this.load());
  }

  protected pressedOutside(event: Event, origin: HTMLElement): void {
    if (!origin.contains(event.target as Node)) this.open.set(false);
  }

  /** Opens what one names, or shows those that were gathered. */
  protected take(line: NoticeLine): void {
    const [first] = line.notices;
    if (line.notices.length > 1) this.shown.update((shown) => (shown === line.key ? '' : line.key));
    else if (first) this.go(first);
  }

  protected go(notice: Notice): void {
    if (!notice.read) this.read([notice.id]);
    const page = notice.link && pageOf(notice.link.kind, notice.link.id);
    if (page === null) return;
    this.open.set(false);
    void this.router.navigateByUrl(page);
  }

  protected read(ids: number[] | 'all'): void {
    this.client.beside(api.platform.readNotices, { body: { ids } }, null).subscribe(() => this.load());
  }

  private load(): void {
    this.client.beside(api.platform.notices, {}, this.told()).subscribe((told) => this.told.set(told));
  }
}
