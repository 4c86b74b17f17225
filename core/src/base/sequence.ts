/** The number of a document: its kind's prefix and a running number of at least four digits. */
export function documentNumber(prefix: string, running: number): string {
  return `${prefix}-${running.toString().padStart(4, '0')}`;
}
