import { gridText, UNIT_NAME, unitOfFactor, type SystemDefinition } from '@longheron/core/frames';

/** Text within an element or an attribute. */
export const xmlText = (text: string) =>
  text.replace(/[&<>"]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c]!);

/** The beginning of a LandXML 1.2 file, up to its units, system and author. */
export function landXmlHead(system: SystemDefinition, date: Date): string {
  const unit = unitOfFactor(system.metresPerUnit) ?? 'metre';
  const units =
    unit === 'metre'
      ? '<Units><Metric areaUnit="squareMeter" linearUnit="meter" volumeUnit="cubicMeter" temperatureUnit="celsius" pressureUnit="milliBars"/></Units>'
      : `<Units><Imperial areaUnit="squareFoot" linearUnit="${unit === 'foot' ? 'foot' : 'USSurveyFoot'}" volumeUnit="cubicFeet" temperatureUnit="fahrenheit" pressureUnit="inHG"/></Units>`;
  const iso = date.toISOString();
  return (
    `<?xml version="1.0" encoding="UTF-8"?>\n<LandXML xmlns="http://www.landxml.org/schema/LandXML-1.2" version="1.2" date="${iso.slice(0, 10)}" time="${iso.slice(11, 19)}">\n` +
    `${units}\n<CoordinateSystem name="${xmlText(system.horizontalName)}" ${system.file ? `desc="defined by ${xmlText(gridText(system.file))}; ` : `epsgCode="${system.horizontalCode}" desc="`}heights: ${xmlText(system.verticalName)}, ${xmlText(UNIT_NAME[unit])}"/>\n` +
    '<Application name="Long Heron"/>\n'
  );
}
