import { SITE_ORIGIN_E, SITE_ORIGIN_N } from '../terrain';
import { type TotalStationRun } from './run';

export type RunUnit = 'decimal degrees' | 'decimal dd.mm.ss' | 'grads' | 'radians';

export interface RunFile {
  setUp?: string;
  code: 'scan' | 'image';
  location: string;
}

/** A run as its instrument writes it: LandXML 1.2, coordinates rough as staked. */
export function runXml(
  run: TotalStationRun,
  {
    unit = 'decimal degrees',
    files = [],
    metresPer = 1,
    linear = 'meter',
  }: { unit?: RunUnit; files?: readonly RunFile[]; metresPer?: number; linear?: string } = {},
): string {
  const angle = (deg: number) => {
    if (unit === 'grads') return ((deg * 10) / 9).toFixed(6);
    if (unit === 'radians') return ((deg * Math.PI) / 180).toFixed(9);
    if (unit === 'decimal degrees') return deg.toFixed(6);
    const tenths = Math.round(deg * 36000);
    const [d, m, s] = [Math.floor(tenths / 36000), Math.floor(tenths / 600) % 60, tenths % 600];
    return `${d}.${String(m).padStart(2, '0')}${String(s).padStart(3, '0')}`;
  };
  const length = (m: number) => (m / metresPer).toFixed(4);
  const points = run.points.map(
    (p) =>
      `    <CgPoint name="${p.name}"${p.code ? ` code="${p.code}"` : ''}>${length(Math.round(SITE_ORIGIN_N + p.y))} ${length(Math.round(SITE_ORIGIN_E + p.x))} ${length(Math.round(p.heightM))}</CgPoint>`,
  );
  const setUps = run.setUps.map(
    (s) =>
      `    <InstrumentSetup id="${s.id}" stationName="${s.station}" instrumentHeight="${length(s.instrumentHeightM)}"><InstrumentPoint pntRef="${s.station}"/><Backsight id="B${s.id}" setupID="${s.id}"><BacksightPoint pntRef="${s.backsight}"/></Backsight></InstrumentSetup>`,
  );
  const groups = run.setUps.map(({ id }) => {
    const rows = run.readings
      .filter((r) => r.setUp === id)
      .map(
        (r) =>
          `      <RawObservation setupID="${id}" targetHeight="${length(r.targetHeightM)}" horizAngle="${angle(r.circleDeg)}" slopeDistance="${length(r.slopeM)}" zenithAngle="${angle(r.zenithDeg)}" directFace="${r.face === 1}"><TargetPoint pntRef="${r.target}"${r.code ? ` code="${r.code}"` : ''}/></RawObservation>`,
      );
    return `    <ObservationGroup id="G${id}" setupID="${id}">\n${rows.join('\n')}\n    </ObservationGroup>`;
  });
  const features = files.map(
    (f) =>
      `    <Feature code="${f.code}">${f.setUp ? `<Property label="setupID" value="${f.setUp}"/>` : ''}<DocFileRef name="${f.location.split('/').pop()}" location="${f.location}"/></Feature>`,
  );
  return `<?xml version="1.0" encoding="UTF-8"?>
<LandXML xmlns="http://www.landxml.org/schema/LandXML-1.2" version="1.2" date="2026-06-16" time="14:20:00">
  <Units><Metric areaUnit="squareMeter" linearUnit="${linear}" volumeUnit="cubicMeter" temperatureUnit="celsius" pressureUnit="milliBars" angularUnit="${unit}" directionUnit="${unit}"/></Units>
  <CgPoints>
${points.join('\n')}
  </CgPoints>
  <Survey>
    <SurveyHeader name="Depot to the quay and back"/>
${setUps.join('\n')}
${groups.join('\n')}
${features.join('\n')}
  </Survey>
</LandXML>
`;
}
