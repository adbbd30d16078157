import { type SystemDefinition } from '@longheron/core/frames';
import { type Tin } from '@longheron/core/surface';
import { writeFileWhole } from '../bytes';
import { format } from '../format';
import about from './about';
import { landXmlHead, xmlText } from './head';

export interface LandXmlOptions {
  name: string;
  /** What to add to the TIN's coordinates, metres. */
  originE: number;
  originN: number;
  system: SystemDefinition;
  date: Date;
  /** Also list the source points; doubles the size. */
  withSourcePoints?: boolean;
}

/** Rough size of the file in bytes, told before it is made. */
export function landXmlSize(tin: Tin, withSourcePoints: boolean): number {
  return 600 + tin.x.length * (withSourcePoints ? 95 : 55) + (tin.triangles.length / 3) * 32;
}

/** Writes a TIN surface as LandXML 1.2: <P> is northing easting elevation in the units of the system. */
export async function writeLandXml(path: string, tin: Tin, options: LandXmlOptions): Promise<void> {
  const { system, date } = options;
  await writeFileWhole(path, async (out) => {
    await out.write(`${landXmlHead(system, date)}<Surfaces><Surface name="${xmlText(options.name)}">\n`);
    const point = (i: number) =>
      `${((tin.y[i] + options.originN) / system.metresPerUnit).toFixed(4)} ${((tin.x[i] + options.originE) / system.metresPerUnit).toFixed(4)} ${(tin.z[i] / system.verticalMetresPerUnit).toFixed(4)}`;
    if (options.withSourcePoints) {
      await out.write('<SourceData><DataPoints><PntList3D>');
      await inPieces(tin.x.length, (i) => `${point(i)} `, out);
      await out.write('</PntList3D></DataPoints></SourceData>\n');
    }
    await out.write('<Definition surfType="TIN"><Pnts>\n');
    await inPieces(tin.x.length, (i) => `<P id="${i + 1}">${point(i)}</P>\n`, out);
    await out.write('</Pnts><Faces>\n');
    await inPieces(
      tin.triangles.length / 3,
      (t) => {
        if (tin.hole[t]) return '';
        const [a, b, c] = tin.triangles.subarray(3 * t, 3 * t + 3);
        return `<F>${a + 1} ${b + 1} ${c + 1}</F>\n`;
      },
      out,
    );
    await out.write('</Faces></Definition></Surface></Surfaces></LandXML>\n');
  });
}

async function inPieces(
  count: number,
  text: (i: number) => string,
  out: { write(s: string): Promise<void> },
): Promise<void> {
  let held = '';
  for (let i = 0; i < count; i++) {
    held += text(i);
    if (held.length > 1 << 18) {
      await out.write(held);
      held = '';
    }
  }
  await out.write(held);
}

/** Surfaces of triangles, written only. */
export default format({ about });
