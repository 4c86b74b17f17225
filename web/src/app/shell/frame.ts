/** The frame around every screen: rail, top line, work area, balance strip. */
import { ApplicationRef, ChangeDetectionStrategy, Component, computed, effect, inject, signal, viewChild } from '@angular/core';
import { Router, RouterLink, RouterLinkActive, RouterOutlet } from '@angular/router';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { NzDropDownModule } from 'ng-zorro-antd/dropdown';
import { NzMenuModule } from 'ng-zorro-antd/menu';
import type { Right } from '@terrace/contract';
import { Confirm } from '../ui/confirm';
import { LongDayPipe } from '../ui/format';
import { Leaving } from '../ui/forms/leaving';
import { ApiClient } from '../client/api-client';
import { attemptWords } from './attempts';
import { Choices } from '../client/choices';
import { Finder } from './finder';
import { focusFeature } from './focus.state';
import { KeyMap } from './key-map';
import { Keys, useKeys } from '../ui/keys';
import { liveFeature } from '../client/live.state';
import { Notices } from './notices';
import { Scanner } from './scanner';
import { sessionActions, sessionFeature } from '../client/session.state';
import { SignInAgain } from './sign-in-again';
import { ConditionNote } from './condition';
import { Strip } from './strip';
import { useHabit } from '../ui/habit';
import { SelectField, SelectOption } from '../ui/select-field';
import { Tip } from '../ui/tip';

interface Room {
  readonly path: string;
  readonly name: string;
  readonly right: Right | null;
  /** A contour of the hillside, drawn in 20 × 14. */
  readonly glyph: string;
}

const ROOMS: readonly Room[] = [
  { path: '/today', name: 'Today', right: null, glyph: 'M1 12h6V8h6V4h6' },
  { path: '/selling', name: 'Selling', right: 'selling.see', glyph: 'M2 4h10v6H2zM12 7h6M15 4l3 3-3 3' },
  { path: '/planning', name: 'Planning', right: 'planning.see', glyph: 'M1 4h5v4h5v-2h4v5h4' },
  { path: '/buying', name: 'Buying', right: 'buying.see', glyph: 'M18 4H8v6h10zM8 7H2M5 4L2 7l3 3' },
  { path: '/production', name: 'Production', right: 'production.see', glyph: 'M2 12V6l5 3V6l5 3V6l5 3v3z' },
  { path: '/stores', name: 'Stores', right: 'stores.see', glyph: 'M2 12V2M18 12V2M2 7h16M4 7V4h4v3M10 12V8h5v4' },
  { path: '/dispatch', name: 'Dispatch', right: 'dispatch.see', glyph: 'M1 3h10v7H1zM11 6h4l3 3v1h-7M4 12h2M13 12h2' },
  { path: '/accounts', name: 'Accounts', right: 'accounts.see', glyph: 'M3 2h14M3 6h14M3 10h8M10 2v10' },
  { path: '/catalogue', name: 'Catalogue', right: 'catalogue.see', glyph: 'M3 2h4v10H3zM8 2h4v10H8zM14 3l3-1 2 10-3 .5z' },
  { path: '/set-up', name: 'Set-up', right: 'setup.see', glyph: 'M3 3h14M3 7h14M3 11h14M7 1v4M13 5v4M6 9v4' },
];

@Component({
  selector: 't-frame',
  imports: [
    Confirm,
    Tip,
    NzButtonModule,
    SelectField,
    SelectOption,
    RouterOutlet,
    RouterLink,
    RouterLinkActive,
    LongDayPipe,
    Finder,
    ConditionNote,
    Strip,
    Notices,
    KeyMap,
    Scanner,
    SignInAgain,
    NzDropDownModule,
    NzMenuModule,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './frame.html',
  styleUrl: './frame.less',
  host: { '(document:keydown)': 'press($event)' },
})
export class Frame {
  private readonly store = inject(Store);
  private readonly router = inject(Router);
  private readonly client = inject(ApiClient);
  private readonly application = inject(ApplicationRef);
  protected readonly keys = inject(Keys);
  protected readonly trouble = this.client.trouble;
  protected readonly leaving = inject(Leaving);
  protected readonly ended = this.client.ended;
  protected readonly choices = inject(Choices);
  protected readonly session = this.store.selectSignal(sessionFeature.selectSession);
  protected readonly attempts = computed(() => this.session()?.attempts ?? null);
  protected readonly attemptWords = attemptWords;
  protected readonly connected = this.store.selectSignal(liveFeature.selectConnected);
  private readonly rights = this.store.selectSignal(sessionFeature.selectRights);
  private readonly preferences = this.store.selectSignal(sessionFeature.selectPreferences);
  private readonly focusItem = this.store.selectSignal(focusFeature.selectItemId);
  private readonly finder = viewChild.required(Finder);
  protected readonly rooms = computed(() => ROOMS.filter((room) => room.right === null || this.rights().has(room.right)));
  protected readonly strip = computed(() => this.preferences()['strip'] !== false);
  protected readonly dark = computed(() => this.preferences()['theme'] === 'dark');
  protected readonly hasFocus = computed(() => this.focusItem() !== null);
  protected readonly showKeys = signal(false);
  protected readonly scanning = signal(false);
  protected readonly isDemo = computed(() => this.session()?.demo === true);

  /** Does what a key stands for, on the screen at once: whoever types on means what the key has led to. */
  protected press(event: KeyboardEvent): void {
    if (this.keys.press(event)) this.application.tick();
  }

  constructor() {
    // Whoever is here is known before anything of theirs is drawn.
    useHabit(this.session()?.habits ?? 'point');
    useKeys([
      { key: '/', words: 'Find or scan anything', act: () => this.finder().focus() },
      { key: '?', words: 'Keys of this screen', act: () => this.showKeys.update((shown) => !shown) },
      { key: 'B', words: 'Fold the balance strip', act: () => this.foldStrip() },
      ...ROOMS.map((room, index) => ({ key: `Alt+${(index + 1) % 10}`, words: room.name, act: () => void this.router.navigateByUrl(room.path) })),
    ]);
    effect(() => {
      document.documentElement.dataset['theme'] = this.dark() ? 'dark' : 'light';
    });
  }

  protected chooseWarehouse(value: string): void {
    this.store.dispatch(sessionActions.chooseWarehouse({ warehouseId: Number(value) }));
  }

  protected foldStrip(): void {
    this.store.dispatch(sessionActions.keepPreference({ key: 'strip', value: !this.strip() }));
  }

  protected turnTheme(): void {
    this.store.dispatch(sessionActions.keepPreference({ key: 'theme', value: this.dark() ? 'light' : 'dark' }));
  }

  protected closeTrouble(): void {
    this.client.heard();
  }

  protected closeAttempts(): void {
    this.store.dispatch(sessionActions.attemptsRead());
  }

  /** What is typed is asked about while they are still signed in. */
  protected async signOut(): Promise<void> {
    if (await this.leaving.ask()) this.store.dispatch(sessionActions.signOut());
  }
}
