/** PDF documents in the house's type. */
import { dirname, join } from 'node:path';
import { createRequire } from 'node:module';
import type * as pdfmakeModule from 'pdfmake';
import type { TDocumentDefinitions } from 'pdfmake/interfaces';

type Renderer = Pick<typeof pdfmakeModule, 'setFonts' | 'setUrlAccessPolicy' | 'setLocalAccessPolicy' | 'createPdf'>;

export const INK = '#1F2D28';
export const QUIET = '#5C6B64';
export const LINE = '#DDD8CC';

let ready: Promise<Renderer> | undefined;

/** Loads the renderer at its first use. Fonts come with a package; nothing is ever fetched. */
async function prepare(): Promise<Renderer> {
  const { default: pdfmake } = (await import('pdfmake')) as unknown as { default: Renderer };
  const folder = dirname(createRequire(import.meta.url).resolve('@expo-google-fonts/atkinson-hyperlegible-next/package.json'));
  const font = (weight: string): string => join(folder, weight, `AtkinsonHyperlegibleNext_${weight}.ttf`);
  pdfmake.setFonts({
    Atkinson: { normal: font('400Regular'), bold: font('700Bold'), italics: font('400Regular_Italic'), bolditalics: font('700Bold_Italic') },
  });
  pdfmake.setUrlAccessPolicy(() => false);
  pdfmake.setLocalAccessPolicy((path) => path.startsWith(folder));
  return pdfmake;
}

/** Renders a document. */
export async function renderPdf(definition: TDocumentDefinitions): Promise<Buffer> {
  ready ??= prepare();
  return (await ready).createPdf({ ...definition, defaultStyle: { font: 'Atkinson', color: INK, ...definition.defaultStyle } }).getBuffer();
}
