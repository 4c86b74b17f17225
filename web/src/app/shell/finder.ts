/** One field to find or scan anything: number, code, barcode, name or words. */
import { OverlayModule } from '@angular/cdk/overlay';
import { ChangeDetectionStrategy, Component, inject, signal, viewChild } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { Router } from '@angular/router';
import { Subject, debounceTime, of, switchMap } from 'rxjs';
import { api, type Found } from '@terrace/contract';
import { FoundList, FoundRow } from '../ui/found-list';
import { State } from '../ui/state';
import { kindWords, pageOf } from '../ui/documents';
import { ApiClient } from '../client/api-client';
import { TextField } from '../ui/text-field';

const WAIT_MS = 100;

@Component({
  selector: 't-finder',
  imports: [FoundList, FoundRow, OverlayModule, TextField, State],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-text
      #box
      cdkOverlayOrigin
      #origin="cdkOverlayOrigin"
      type="search"
      role="combobox"
      label="Find or scan anything"
      [controls]="list.shown() ? list.id : ''"
      [expanded]="list.shown()"
      [reached]="list.reachedId()"
      placeholder="Find or scan anything   /"
      (valueChange)="type($event)"
      (keydown)="key($event)"
      (focusout)="open.set(false)"
      (focusin)="box.select()"
    />
    <t-found-list
      #list
      [found]="found()"
      [open]="open()"
      [origin]="origin"
      label="Found"
      nothing="Nothing has all these words."
      width="min(560px, 90vw)"
      (taken)="go($event)"
    >
      <ng-template tFound [of]="found()" let-each>
        <span class="found">
          <span class="quiet">{{ words(each.kind) }}</span><span class="code">{{ each.title }}</span
          ><span class="detail">{{ each.detail }}</span>
          @if (each.state; as state) {
            <t-state [state]="state" />
          }
        </span>
      </ng-template>
    </t-found-list>
  `,
  styles: `
    :host {
      display: block;
    }
    .found {
      display: grid;
      grid-template-columns: 110px 120px 1fr auto;
      gap: 10px;
    }
    .detail {
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
    }
  `,
})
export class Finder {
  private readonly client = inject(ApiClient);
  private readonly router = inject(Router);
  private readonly box = viewChild.required<TextField>('box');
  private readonly wanted = new Subject<string>();
  protected readonly found = signal<readonly Found[]>([]);
  private readonly list = viewChild.required<FoundList<Found>>('list');
  protected readonly open = signal(false);
  protected readonly words = kindWords;
  private enterPressed = false;

  constructor() {
    this.wanted
      .pipe(
        debounceTime(WAIT_MS),
        switchMap((text) => (text.trim() === '' ? of(null) : this.client.beside(api.platform.find, { query: { text } }, null))),
        takeUntilDestroyed(),
      )
      .subscribe((found) => {
        this.found.set(found ?? []);
        this.open.set(found !== null);
        const [first] = found ?? [];
        if (this.enterPressed && first) this.go(first);
      });
  }

  focus(): void {
    this.box().focus();
  }

  protected type(text: string): void {
    this.enterPressed = false;
    this.wanted.next(text);
  }

  protected key(event: KeyboardEvent): void {
    if (this.list().move(event)) return;
    if (event.key === 'Escape' && this.open()) {
      // It closes the list, and is no step back from the page.
      this.open.set(false);
      event.stopPropagation();
    } else if (event.key === 'Enter') {
      const chosen = this.open() ? this.list().reached(this.found()) : undefined;
      if (chosen) this.go(chosen);
      else this.enterPressed = true;
    } else return;
    event.preventDefault();
  }

  protected go(found: Found): void {
    this.box().leave();
    this.open.set(false);
    this.enterPressed = false;
    const page = pageOf(found.kind, found.id) ?? (found.kind === 'supplier' ? '/catalogue/suppliers' : '/catalogue/customers');
    void this.router.navigateByUrl(page);
  }
}
