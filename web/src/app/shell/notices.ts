/** Notices: what the system tells this person, each with a link to what it is about. */
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { filter } from 'rxjs';
import { api, type AnswerOf } from '@terrace/contract';
import { pageOf } from '../ui/documents';
import { MomentPipe } from '../ui/format';
import { ApiClient } from '../client/api-client';
import { whenMissed } from '../client/heard';
import { liveFeature } from '../client/live.state';

@Component({
  selector: 't-notices',
  imports: [NzButtonModule, RouterLink, MomentPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <button nz-button type="button" class="act plain" [attr.aria-expanded]="open()" [attr.aria-label]="unread() + ' unread notices'" (click)="turn()">
      Notices
      @if (unread() > 0) {
        <b>{{ unread() }}</b>
      }
    </button>
    @if (open()) {
      <div class="list" role="region" aria-label="Notices">
        @for (each of notices(); track each.id) {
          <div [class.fresh]="!each.read">
            <span class="quiet">{{ each.at | moment }}</span>
            @if (pageFor(each); as page) {
              <a [routerLink]="page" (click)="open.set(false)">{{ each.text }}</a>
            } @else {
              <span>{{ each.text }}</span>
            }
          </div>
        } @empty {
          <p class="quiet">Nothing to tell yet.</p>
        }
      </div>
    }
  `,
  styles: `
    :host {
      position: relative;
    }
    b {
      background: var(--accent);
      color: var(--accent-ink);
      padding: 0 5px;
      font-size: 12px;
      border-radius: 2px;
    }
    .list {
      position: absolute;
      z-index: 40;
      right: 0;
      top: 36px;
      width: 380px;
      max-height: 60vh;
      overflow: auto;
      background: var(--surface);
      border: 1px solid var(--line-strong);
      padding: 6px;
      box-shadow: 0 4px 14px rgb(0 0 0 / 0.18);
    }
    .list > div {
      display: grid;
      grid-template-columns: 92px 1fr;
      gap: 8px;
      padding: 5px 6px;
      font-size: 13px;
      border-bottom: 1px solid var(--line);
    }
    .fresh {
      background: var(--chosen);
    }
  `,
})
export class Notices {
  private readonly client = inject(ApiClient);
  protected readonly notices = signal<AnswerOf<typeof api.platform.notices>>([]);
  protected readonly unread = computed(() => this.notices().filter((each) => !each.read).length);
  protected readonly open = signal(false);

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

  protected pageFor(notice: AnswerOf<typeof api.platform.notices>[number]): string | null {
    return notice.link && pageOf(notice.link.kind, notice.link.id);
  }

  protected turn(): void {
    this.open.update((open) => !open);
    if (this.open() || this.unread() === 0) return;
    this.client.beside(api.platform.readNotices, {}, null).subscribe(() => this.load());
  }

  private load(): void {
    this.client.beside(api.platform.notices, {}, this.notices()).subscribe((notices) => this.notices.set(notices));
  }
}
