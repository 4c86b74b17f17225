/** Founding a company where there is none: what it is, what its country proposes, and who looks after it. */
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { Router } from '@angular/router';
import { Store } from '@ngrx/store';
import { switchMap } from 'rxjs';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type AnswerOf } from '@terrace/contract';
import { countries, countryOf, writeDecimal } from '@terrace/core';
import { ApiClient, problemOf } from '../client/api-client';
import { sessionActions } from '../client/session.state';
import { Control, entryOf } from '../ui/forms';
import { Labelled } from '../ui/labelled';
import { Refused } from '../ui/refusal';
import { SelectField, SelectOption } from '../ui/select-field';
import { TextArea, TextField } from '../ui/text-field';
import { Door } from './door';
import { FoundFrom } from './found-from';

/** The country that the browser speaks of, else the first that there is. */
function likely(): string {
  const region = new Intl.Locale(navigator.language).maximize().region;
  return (countryOf(region ?? '') ?? countries[0])?.code ?? '';
}

const PERCENT_SCALE = 2;
type Session = AnswerOf<typeof api.platform.signIn>;

@Component({
  imports: [Control, Door, FoundFrom, Labelled, NzButtonModule, Refused, SelectField, SelectOption, TextArea, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-door heading="Found your company" beneath="This folder is empty. Whoever founds the company looks after it, and lets the others in.">
      <div>
        <p class="ways">
          <button nz-button type="button" class="act small" (click)="fromArchive.set(!fromArchive())">
            {{ fromArchive() ? 'Begin with an empty one instead' : 'From an archive of Terrace instead' }}
          </button>
        </p>
        @if (fromArchive()) {
          <t-found-from (founded)="enter($event)" />
        } @else {
          <form (submit)="$event.preventDefault(); found()">
            <section>
              <h2>The company</h2>
              <t-field name="Name of the company"><t-text autocomplete="organization" [formField]="entry.fields.company" /></t-field>
              <t-field name="Address, as on papers"><t-area [rows]="3" [formField]="entry.fields.address" /></t-field>
              <t-field name="Country">
                <t-select label="Country" [formField]="entry.fields.country" (valueChange)="propose($event)">
                  @for (each of countries; track each.code) {
                    <t-option [value]="each.code" [label]="each.name" />
                  }
                </t-select>
              </t-field>
              <div class="two">
                <t-field name="Currency of the books"><t-text kind="code" [formField]="entry.fields.currency.code" /></t-field>
                <t-field name="Time zone">
                  <t-select label="Time zone" [formField]="entry.fields.timeZone">
                    @for (each of zones; track each) {
                      <t-option [value]="each" [label]="each" />
                    }
                  </t-select>
                </t-field>
              </div>
              <p class="quiet">{{ proposal() }}</p>
            </section>
            <section>
              <h2>You</h2>
              <t-field name="Your name"><t-text autocomplete="name" [formField]="entry.fields.name" /></t-field>
              <t-field name="What you sign in with"><t-text autocomplete="username" [formField]="entry.fields.login" /></t-field>
              <t-field name="Password" hint="Ten characters at least; a few words make a good one">
                <t-text type="password" autocomplete="new-password" [formField]="entry.fields.password" />
              </t-field>
              <t-field name="Code on the server’s console" hint="Only who runs the server can read it">
                <t-text kind="code" placeholder="XXXX-XXXX" [formField]="entry.fields.code" />
              </t-field>
              <t-refusal [problem]="entry.problem()" />
              <button nz-button class="act first" [disabled]="entry.busy()">Found the company</button>
            </section>
          </form>
        }
      </div>
    </t-door>
  `,
  styles: `
    form {
      display: grid;
      grid-template-columns: repeat(auto-fit, minmax(300px, 1fr));
      width: min(760px, calc(100vw - 50px));
    }
    section {
      padding: 24px 32px 28px;
      display: grid;
      gap: 12px;
      align-content: start;
    }
    section + section {
      background: var(--raised);
    }
    .ways {
      margin: 0;
      padding: 0 32px;
    }
    .two {
      display: grid;
      grid-template-columns: 1fr 1.6fr;
      gap: 12px;
    }
    .act.first {
      justify-content: center;
      height: 36px;
    }
  `,
})
export class FoundPage {
  private readonly client = inject(ApiClient);
  private readonly router = inject(Router);
  private readonly store = inject(Store);
  protected readonly countries = countries;
  protected readonly zones = ['UTC', ...Intl.supportedValuesOf('timeZone').filter((zone) => zone !== 'UTC')];
  protected readonly fromArchive = signal(false);
  private readonly draft = signal({ company: '', address: '', ...proposed(likely()), name: '', login: '', password: '', code: '' });
  protected readonly entry = entryOf({ draft: this.draft, route: () => api.setup.found, keeps: false });
  protected readonly proposal = computed(() => {
    const country = countryOf(this.draft().country);
    if (!country) return '';
    const rates = country.taxes.map(({ rate }) => `${writeDecimal(BigInt(rate), PERCENT_SCALE)}\u00a0%`).join(', ');
    return `Proposed for ${country.name}: tax of ${rates}; Monday to Friday worked but for ${country.holidays.length} public holidays. All of it can be changed later.`;
  });

  constructor() {
    this.client.call(api.platform.welcome).subscribe({
      next: ({ founded }) => {
        if (founded) void this.router.navigateByUrl('/sign-in');
      },
      error: (error: unknown) => this.entry.refuse(problemOf(error)),
    });
  }

  protected propose(country: unknown): void {
    if (typeof country === 'string') this.draft.update((draft) => ({ ...draft, ...proposed(country) }));
  }

  protected found(): void {
    const draft = this.draft();
    const { login, password, currency } = draft;
    const known = countries.find((each) => each.currency.code === currency.code)?.currency.name;
    const body = { ...draft, currency: { code: currency.code, name: known ?? currency.code } };
    const begin = this.client
      .call(api.setup.found, { body })
      .pipe(switchMap(() => this.client.call(api.platform.signIn, { body: { login, password } })));
    this.entry.send(begin, (session) => this.goOn(session));
  }

  /** Whoever has founded the company goes in at once. */
  protected enter(body: { readonly login: string; readonly password: string }): void {
    this.entry.send(this.client.call(api.platform.signIn, { body }), (session) => this.goOn(session));
  }

  private goOn(session: Session): void {
    this.store.dispatch(sessionActions.signedIn({ session }));
    void this.router.navigateByUrl('/set-up');
  }
}

/** What a country proposes for fields of the form. */
function proposed(code: string): { country: string; currency: { code: string; name: string }; timeZone: string } {
  const { currency, timeZone } = countryOf(code) ?? { currency: { code: '', name: '' }, timeZone: 'UTC' };
  return { country: code, currency: { ...currency }, timeZone };
}
