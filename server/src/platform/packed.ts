/** Reads packed files (ZIP): what is in one, by name. */
import type { Readable } from 'node:stream';
import yauzl from 'yauzl';

/** How much has been named so far: parts, bytes once unpacked, bytes as they are packed. */
export interface Packing {
  readonly parts: number;
  readonly said: number;
  readonly packed: number;
}

export class Packed {
  private constructor(
    private readonly zip: yauzl.ZipFile,
    private readonly entries: ReadonlyMap<string, yauzl.Entry>,
  ) {}

  /** Opens one. `allow` throws where there is more in it than anybody would want unpacked: nothing has been by then. */
  static open(path: string, allow: (packing: Packing) => void): Promise<Packed> {
    return new Promise((done, fail) => {
      yauzl.open(path, { lazyEntries: true, autoClose: false }, (error, zip) => {
        if (error) {
          fail(error);
          return;
        }
        const entries = new Map<string, yauzl.Entry>();
        let said = 0;
        let packed = 0;
        const giveUp = (problem: unknown): void => {
          zip.close();
          fail(problem instanceof Error ? problem : new Error('it is broken'));
        };
        zip.on('error', giveUp);
        zip.on('end', () => done(new Packed(zip, entries)));
        zip.on('entry', (entry: yauzl.Entry) => {
          said += entry.uncompressedSize;
          packed += entry.compressedSize;
          entries.set(entry.fileName, entry);
          try {
            allow({ parts: entries.size, said, packed });
          } catch (problem) {
            giveUp(problem);
            return;
          }
          zip.readEntry();
        });
        zip.readEntry();
      });
    });
  }

  names(): string[] {
    return [...this.entries.keys()];
  }

  /** A part, as it is unpacked; `null` where there is none of that name. */
  read(name: string): Promise<Readable> | null {
    const entry = this.entries.get(name);
    if (!entry) return null;
    return new Promise((done, fail) =>
      this.zip.openReadStream(entry, (error, stream) => {
        if (error) fail(error);
        else done(stream);
      }),
    );
  }

  close(): void {
    this.zip.close();
  }
}
