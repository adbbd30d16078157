import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { reportFonts } from './fonts';

interface PdfMake {
  setFonts(fonts: object): void;
  setTableLayouts(layouts: object): void;
  setUrlAccessPolicy(policy: (url: string) => boolean): void;
  setLocalAccessPolicy(policy: (path: string) => boolean): void;
  createPdf(definition: object): { getBuffer(): Promise<Buffer> };
}

let prepared: PdfMake | undefined;

function maker(): PdfMake {
  if (prepared) return prepared;
  const make = createRequire(import.meta.url)('pdfmake') as PdfMake;
  // drawings inside a report open their fonts by path
  const folder = mkdtempSync(join(tmpdir(), 'longheron-fonts-'));
  process.once('exit', () => rmSync(folder, { recursive: true, force: true }));
  const paths = Object.fromEntries(
    Object.entries(reportFonts()).map(([name, data]) => {
      const path = join(folder, `${name}.ttf`);
      writeFileSync(path, data);
      return [name, path];
    }),
  );
  const family = (normal: string, bold: string) => ({ normal, bold, italics: normal, bolditalics: bold });
  make.setFonts({ Sans: family(paths.sans, paths.sansBold), Mono: family(paths.mono, paths.monoBold) });
  make.setTableLayouts({
    plain: {
      hLineWidth: (i: number, node: { table: { headerRows?: number } }) =>
        i === (node.table.headerRows ?? 0) && i > 0 ? 0.8 : 0.3,
      vLineWidth: () => 0,
      hLineColor: () => '#d3ddde',
      paddingLeft: () => 0,
      paddingRight: () => 5,
      paddingTop: () => 1.5,
      paddingBottom: () => 1.5,
    },
  });
  // nothing is fetched and nothing but the fonts is read while a report is written
  make.setUrlAccessPolicy(() => false);
  make.setLocalAccessPolicy((path) => Object.values(paths).includes(path));
  return (prepared = make);
}

/** Writes a document definition as PDF. */
export async function writePdf(definition: object): Promise<Buffer> {
  return Buffer.from(await maker().createPdf(definition).getBuffer());
}
