/** The printer that stands in for one: a receipt as it would come out of it. */
import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import { RouterLink } from '@angular/router';
import type { SaleView } from '@terrace/contract';

@Component({
  selector: 't-receipt-strip',
  imports: [RouterLink],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <pre aria-label="Receipt" tabindex="0">{{ sale().receipt.join(newLine) }}</pre>
    <div class="acts">
      <a class="act small" [href]="'/api/papers/receipt/' + sale().id" target="_blank">Print (PDF, 80 mm)</a>
      <a class="act small" [routerLink]="['/selling/orders', sale().orderId]">{{ sale().order }}</a>
      <a class="act small" [routerLink]="['/accounts/invoices', sale().invoiceId]">{{ sale().invoice }}</a>
    </div>
  `,
  styles: `
    pre {
      margin: 0 0 10px;
      padding: 14px 12px;
      background: var(--surface);
      border: 1px solid var(--line);
      border-bottom-style: dashed;
      font: 12px/1.45 var(--figures);
      overflow-x: auto;
      width: fit-content;
      max-width: 100%;
    }
  `,
})
export class ReceiptStrip {
  readonly sale = input.required<SaleView>();
  protected readonly newLine = '\n';
}
