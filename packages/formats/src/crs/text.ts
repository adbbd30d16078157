import { gridText, type SystemDefinition } from '@longheron/core/frames';
import { Problem } from '@longheron/core/shared';
import { systemNamed } from './grids';
import { registry } from './list';
import { parseSystem, systemParts } from './system';
import { planWkt1, readSystemWkt, type HeightsWkt, type SystemWkt } from './wkt';

/** WKT 1 of plan alone. */
function planWkt(definition: SystemDefinition): string {
  if (definition.file) return planWkt1(systemNamed(definition.file).plan!);
  const plan = registry()[String(definition.horizontalCode)]?.wkt;
  if (plan) return plan;
  throw new Problem(`The EPSG list has no WKT for EPSG:${definition.horizontalCode}.`, {
    code: 'crs-wkt',
    remedy: 'Choose another system.',
  });
}

/**
 * OGC 01-009 WKT 1 of the system, COMPD_CS with its height system. Grids and files are named in it by what they hold, so
 * that the text can be read back into the system.
 */
export function wktOfSystem(definition: SystemDefinition): string {
  const plan = planWkt(definition);
  const { grid, file, shift, verticalCode } = definition;
  const by = `${shift ? `, shifted by ${gridText(shift)}` : ''}${file ? `, defined by ${gridText(file)}` : ''}`;
  const named = (heights: string) => `${definition.horizontalName} + ${heights}${by}`;
  // coordinates in files are heights, positive up, also where depths are asked for
  const axis = 'AXIS["Up",UP]';
  const metre = 'UNIT["metre",1,AUTHORITY["EPSG","9001"]]';
  if (definition.heightsOfFile) {
    const datum = `VERT_DATUM[${wktQuoted(definition.verticalName)},2005]`;
    const vertical = `VERT_CS[${wktQuoted(definition.verticalName)},${datum},${metre},${axis}]`;
    return `COMPD_CS[${wktQuoted(named(definition.verticalName))},${plan},${vertical}]`;
  }
  if (grid) {
    // the extension is how WKT 1 names a grid; the text before it says which content is meant
    const full = gridText(grid);
    const [of, extension] = definition.heightsByText
      ? ['heights of', '']
      : ['geoid', `,EXTENSION["PROJ4_GRIDS","${grid.name}"]`];
    const name = of === 'geoid' ? `height above the geoid ${full}` : `${definition.verticalName}, ${of} ${full}`;
    const datum = `VERT_DATUM["${of} ${full}",2005${extension}]`;
    const vertical = `VERT_CS[${wktQuoted(name)},${datum},${metre},${axis}]`;
    return `COMPD_CS[${wktQuoted(named(of === 'geoid' ? `height above the geoid ${grid.name}` : definition.verticalName))},${plan},${vertical}]`;
  }
  if (!verticalCode) {
    const vertical = `VERT_CS["Ellipsoidal height",VERT_DATUM["Ellipsoid",2002],${metre},${axis}]`;
    return `COMPD_CS[${wktQuoted(named('ellipsoidal height'))},${plan},${vertical}]`;
  }
  const height = registry()[String(verticalCode)]?.wkt;
  return `COMPD_CS[${wktQuoted(named(definition.verticalName))},${plan},${height}]`;
}

const wktQuoted = (text: string) => `"${text.replace(/"/g, '""')}"`;

/** What well-known text has of a system: read from the list, or from its files. */
export function modelOfSystem(text: string): SystemWkt {
  const parts = systemParts(text);
  const { definition } = parseSystem(text);
  const plan =
    typeof parts!.plan === 'object'
      ? systemNamed(parts!.plan).plan
      : readSystemWkt(planWkt(definition), `EPSG:${parts!.plan}`).plan;
  const own = definition.heightsOfFile && definition.file ? systemNamed(definition.file).heights : undefined;
  const { grid, verticalCode, verticalName } = definition;
  const heights: HeightsWkt | undefined =
    own ??
    (grid && definition.heightsByText
      ? systemNamed(grid).heights
      : {
          name: grid ? `height above the geoid ${gridText(grid)}` : verticalCode ? verticalName : 'Ellipsoidal height',
          base: grid ?? (verticalCode || 'ellipsoid'),
          unit: { name: 'metre', metres: definition.verticalMetresPerUnit },
          depths: false,
        });
  return { name: `${definition.horizontalName} + ${verticalName}`, plan, heights };
}
