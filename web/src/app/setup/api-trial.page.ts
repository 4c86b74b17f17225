/** The API's description as a page to try it: choose a route, fill in, send, read the answer. */
import { HttpClient, HttpErrorResponse, type HttpResponse } from '@angular/common/http';
import { ChangeDetectionStrategy, Component, computed, inject, linkedSignal, signal } from '@angular/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { TextArea, TextField } from '../ui/text-field';
import { SelectField, SelectOption } from '../ui/select-field';

interface Schema {
  readonly type?: string;
  readonly properties?: Readonly<Record<string, Schema>>;
  readonly items?: Schema;
  readonly enum?: readonly unknown[];
  readonly default?: unknown;
}

interface Operation {
  readonly operationId: string;
  readonly summary: string;
  readonly description: string;
  readonly tags: readonly string[];
  readonly parameters: readonly { readonly name: string; readonly in: 'path' | 'query' | 'header'; readonly required: boolean }[];
  readonly requestBody?: { readonly content: Readonly<Record<string, { readonly schema: Schema }>> };
}

interface Entry extends Operation {
  readonly method: string;
  readonly path: string;
}

/** A body to begin with: every field, with its default or an empty value. */
function example(schema: Schema | undefined): unknown {
  if (!schema) return {};
  if (schema.default !== undefined) return schema.default;
  if (schema.enum) return schema.enum[0];
  if (schema.properties) return Object.fromEntries(Object.entries(schema.properties).map(([name, each]) => [name, example(each)]));
  if (schema.type === 'array') return [example(schema.items)];
  return schema.type === 'number' || schema.type === 'integer' ? 0 : schema.type === 'boolean' ? false : '';
}

@Component({
  imports: [NzButtonModule, TextArea, SelectField, SelectOption, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <h1>API</h1>
      <p class="quiet">
        Everything that these screens do, described as OpenAPI 3.1 at <a href="/api/openapi.json" target="_blank">/api/openapi.json</a>. What you send
        here is carried out, as you.
      </p>
      <label class="field"
        ><span>Route</span
        ><t-select [value]="chosen()" (valueChange)="chosen.set($event)">
          @for (each of entries(); track each.operationId) {
            <t-option [value]="each.operationId" label="{{ each.tags[0] }} · {{ each.summary }} ({{ each.method.toUpperCase() }} {{ each.path }})" />
          }</t-select
      ></label>
      @if (entry(); as each) {
        <p class="quiet">{{ each.description }}</p>
        <div class="acts">
          @for (parameter of fields(); track parameter.name) {
            <label class="field"
              ><span>{{ parameter.name }}{{ parameter.required ? '' : ' (may be empty)' }}</span
              ><t-text [value]="values()[parameter.name] ?? ''" (valueChange)="type(parameter.name, $event)"
            /></label>
          }
        </div>
        @if (each.requestBody) {
          <label class="field"><span>Body, JSON</span><t-area kind="code" rows="10" [value]="text()" (valueChange)="text.set($event)" /> </label>
        }
        <div class="acts">
          <button nz-button type="button" class="act first" (click)="send(each)">Send {{ each.method.toUpperCase() }}</button>
        </div>
      }
      @if (answer() !== '') {
        <section class="pane">
          <h2>{{ status() }}</h2>
          <pre>{{ answer() }}</pre>
        </section>
      }
    </div>
  `,
  styles: 'pre { margin: 0; max-height: 460px; overflow: auto; font: 12px var(--figures); }',
})
export class ApiTrialPage {
  private readonly http = inject(HttpClient);
  protected readonly entries = signal<readonly Entry[]>([]);
  protected readonly chosen = signal('');
  protected readonly entry = computed(() => this.entries().find((each) => each.operationId === this.chosen()));
  protected readonly fields = computed(() => this.entry()?.parameters.filter((each) => each.in !== 'header') ?? []);
  protected readonly values = linkedSignal<Operation | undefined, Readonly<Record<string, string>>>({ source: this.entry, computation: () => ({}) });
  protected readonly text = linkedSignal(() => JSON.stringify(example(this.entry()?.requestBody?.content['application/json']?.schema), null, 2));
  protected readonly status = signal('');
  protected readonly answer = signal('');

  constructor() {
    this.http.get<{ paths: Record<string, Record<string, Operation>> }>('/api/openapi.json').subscribe({
      next: ({ paths }) => {
        this.entries.set(
          Object.entries(paths).flatMap(([path, methods]) => Object.entries(methods).map(([method, operation]) => ({ ...operation, method, path }))),
        );
        this.chosen.set(this.entries()[0]?.operationId ?? '');
      },
      error: () => this.show('no answer', { detail: 'The description could not be read.' }),
    });
  }

  protected type(name: string, value: string): void {
    this.values.update((values) => ({ ...values, [name]: value }));
  }

  protected send(entry: Entry): void {
    const values = this.values();
    const path = entry.path.replace(/\{(\w+)\}/g, (_, name: string) => encodeURIComponent(values[name] ?? ''));
    const query = entry.parameters
      .filter((each) => each.in === 'query' && (values[each.name] ?? '') !== '')
      .map((each) => [each.name, values[each.name] ?? ''] as [string, string]);
    const address = query.length === 0 ? path : `${path}?${new URLSearchParams(query).toString()}`;
    const headers = { 'Content-Type': 'application/json', 'Idempotency-Key': crypto.randomUUID() };
    this.http.request(entry.method, address, { body: entry.requestBody ? this.text() : null, headers, observe: 'response' }).subscribe({
      next: (response: HttpResponse<unknown>) => this.show(`${response.status} ${response.statusText}`, response.body),
      error: (error: unknown) =>
        this.show(
          error instanceof HttpErrorResponse ? `${error.status} ${error.statusText}` : 'no answer',
          error instanceof HttpErrorResponse ? error.error : {},
        ),
    });
  }

  private show(status: string, answer: unknown): void {
    this.status.set(status);
    this.answer.set(JSON.stringify(answer, null, 2));
  }
}
