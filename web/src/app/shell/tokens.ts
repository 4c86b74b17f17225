/** One's own tokens for programs: made for a while, shown once, revoked at once. */
import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, rights, type TokensView } from '@terrace/contract';
import { ApiClient, problemOf } from '../client/api-client';
import { MomentPipe } from '../ui/format';
import { Control, entryOf } from '../ui/forms';
import { Labelled } from '../ui/labelled';
import { Note } from '../ui/note';
import { OneOfField } from '../ui/one-of';
import { Refused } from '../ui/refusal';
import { Sheet } from '../ui/sheet';
import { TextField } from '../ui/text-field';

const LOOKING = rights.filter((right) => right.endsWith('.see'));
const NONE = { name: '', days: '90' };
const WIDTHS = [
  { value: 'all', words: 'All that I may' },
  { value: 'look', words: 'Look only' },
] as const;
type Width = (typeof WIDTHS)[number]['value'];

@Component({
  selector: 't-tokens',
  imports: [Control, Labelled, MomentPipe, Note, NzButtonModule, OneOfField, Refused, Sheet, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (made(); as text) {
      <t-note kind="calm">
        <p>
          It is shown this once: <code class="code">Authorization: Bearer {{ text }}</code>
        </p>
        <div class="acts"><button nz-button type="button" class="act small" (click)="copy(text)">Copy the token</button></div>
      </t-note>
    }
    @if (tokens().length > 0) {
      <t-sheet>
        <thead>
          <tr>
            <th>For</th>
            <th>May</th>
            <th>Until</th>
            <th>Used last</th>
            <th><span class="sr">Revoke</span></th>
          </tr>
        </thead>
        <tbody>
          @for (each of tokens(); track each.id) {
            <tr>
              <td>{{ each.name }}</td>
              <td>{{ each.rights === null ? 'all that I may' : 'look only' }}</td>
              <td>{{ each.expires | moment }}</td>
              <td>{{ each.lastUse ? (each.lastUse | moment) : 'never' }}</td>
              <td><button nz-button type="button" class="act small" (click)="revoke(each.id)">Revoke</button></td>
            </tr>
          }
        </tbody>
      </t-sheet>
    }
    <form (submit)="$event.preventDefault(); make()">
      <t-field name="What it is for"><t-text [formField]="entry.fields.name" /></t-field>
      <t-field name="Days"><t-text kind="figure" [formField]="entry.fields.days" /></t-field>
      <t-one-of label="What it may" [options]="widths" [value]="width()" (chosen)="width.set($event)" />
      <button nz-button class="act first" [disabled]="entry.busy()">Make a token</button>
    </form>
    <t-refusal [problem]="entry.problem()" />
  `,
  styles: `
    :host {
      display: grid;
      gap: 12px;
    }
    form {
      display: flex;
      flex-wrap: wrap;
      gap: 8px 12px;
      align-items: end;
    }
    code.code {
      white-space: normal;
      overflow-wrap: anywhere;
      user-select: all;
    }
  `,
})
export class Tokens {
  private readonly client = inject(ApiClient);
  protected readonly widths = WIDTHS;
  protected readonly width = signal<Width>('look');
  protected readonly tokens = signal<TokensView['tokens']>([]);
  protected readonly made = signal('');
  private readonly draft = signal(NONE);
  protected readonly entry = entryOf({
    part: () => 'token',
    draft: this.draft,
    route: () => api.setup.addToken,
    body: ({ name, days }) => ({ name, days: Number(days), rights: null }),
    keeps: false,
  });

  constructor() {
    this.client
      .call(api.setup.tokens)
      .subscribe({ next: ({ tokens }) => this.tokens.set(tokens), error: (error: unknown) => this.entry.refuse(problemOf(error)) });
  }

  protected make(): void {
    const { name, days } = this.draft();
    const body = { name, days: Number(days), rights: this.width() === 'all' ? null : [...LOOKING] };
    this.entry.send(this.client.call(api.setup.addToken, { body }), ({ tokens, token }) => {
      this.tokens.set(tokens);
      this.made.set(token);
      this.entry.begin(NONE);
      // Nobody has left the fields of the next one.
      this.entry.fields().reset();
    });
  }

  protected revoke(id: number): void {
    this.entry.send(
      this.client.call(api.setup.dropToken, { params: { id } }),
      ({ tokens }) => {
        this.tokens.set(tokens);
        this.made.set('');
      },
      'part',
    );
  }

  protected copy(text: string): void {
    void navigator.clipboard.writeText(text);
  }
}
