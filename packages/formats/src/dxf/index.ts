import { planName, unitOfFactor, type SystemDefinition } from '@longheron/core/frames';
import { type Contour } from '@longheron/core/surface';
import { writeFileWhole } from '../bytes';
import { format } from '../format';
import about from './about';

const INSUNITS = { metre: 6, foot: 2, usSurveyFoot: 21 } as const;

/** Writes contours as DXF R2000: LWPOLYLINE with elevation, index contours on a layer of their own. */
export async function writeContoursDxf(path: string, contours: Contour[], system: SystemDefinition): Promise<void> {
  const unit = unitOfFactor(system.metresPerUnit) ?? 'metre';
  let handle = 0x100;
  const next = () => (handle++).toString(16).toUpperCase();
  const g = (...pairs: Array<[number, string | number]>) =>
    pairs.map(([code, value]) => `${code}\n${value}\n`).join('');
  const layer = (name: string, colour: number, weight: number) =>
    g(
      [0, 'LAYER'],
      [5, next()],
      [100, 'AcDbSymbolTableRecord'],
      [100, 'AcDbLayerTableRecord'],
      [2, name],
      [70, 0],
      [62, colour],
      [6, 'CONTINUOUS'],
      [370, weight],
    );
  await writeFileWhole(path, async (out) => {
    await out.write(
      g(
        [999, `${planName(system)}, ${system.verticalName}, heights positive up`],
        [0, 'SECTION'],
        [2, 'HEADER'],
        [9, '$ACADVER'],
        [1, 'AC1015'],
        [9, '$INSUNITS'],
        [70, INSUNITS[unit]],
        [9, '$HANDSEED'],
        [5, 'FFFFFFF'],
        [0, 'ENDSEC'],
      ) +
        g([0, 'SECTION'], [2, 'TABLES'], [0, 'TABLE'], [2, 'LAYER'], [5, next()], [100, 'AcDbSymbolTable'], [70, 2]) +
        layer('CONTOUR', 8, 13) +
        layer('CONTOUR_INDEX', 7, 30) +
        g([0, 'ENDTAB'], [0, 'ENDSEC'], [0, 'SECTION'], [2, 'ENTITIES']),
    );
    for (const c of contours) {
      const n = c.coordinates.length / 2;
      const last = c.coordinates.length - 2;
      const closed = n > 2 && c.coordinates[0] === c.coordinates[last] && c.coordinates[1] === c.coordinates[last + 1];
      const count = closed ? n - 1 : n;
      let text = g(
        [0, 'LWPOLYLINE'],
        [5, next()],
        [100, 'AcDbEntity'],
        [8, c.index ? 'CONTOUR_INDEX' : 'CONTOUR'],
        [100, 'AcDbPolyline'],
        [90, count],
        [70, closed ? 1 : 0],
        [38, (c.heightM / system.verticalMetresPerUnit).toFixed(4)],
      );
      for (let i = 0; i < count; i++)
        text += g(
          [10, (c.coordinates[2 * i] / system.metresPerUnit).toFixed(3)],
          [20, (c.coordinates[2 * i + 1] / system.metresPerUnit).toFixed(3)],
        );
      await out.write(text);
    }
    await out.write(g([0, 'ENDSEC'], [0, 'EOF']));
  });
}

/** Contours, written only. */
export default format({ about });
