import { type ContourStyle } from '@longheron/contract/requests';
import { type FeatureLike } from 'ol/Feature';
import GeoJSON from 'ol/format/GeoJSON';
import type Feature from 'ol/Feature';
import { Fill, Stroke, Style, Text } from 'ol/style';

/** Contours of a surface as they are stored, in the system of the project; none when they cannot be had. */
export async function contourFeatures(url: string): Promise<Feature[]> {
  const text = await fetch(url)
    .then((r) => r.text())
    .catch(() => '');
  if (!text) return [];
  const plain = { dataProjection: undefined, featureProjection: undefined };
  return new GeoJSON().readFeatures(JSON.parse(text) as object, plain);
}

/** How contours look. @param perMetre factor from metres to the unit of heights. */
export function contourStyler(s: ContourStyle, perMetre: number): (f: FeatureLike) => Style {
  const thin = new Style({ stroke: new Stroke({ color: s.colour, width: s.widthPx }) });
  const stroke = new Stroke({ color: s.indexColour, width: s.indexWidthPx });
  return (f) => {
    if (!f.get('index')) return thin;
    const text = s.heights
      ? new Text({
          text: (Number(f.get('height_m')) * perMetre).toFixed(s.decimals),
          font: '12px IBM Plex Mono',
          placement: 'line',
          fill: new Fill({ color: s.indexColour }),
          stroke: new Stroke({ color: '#fff', width: 3 }),
        })
      : undefined;
    return new Style({ stroke, text });
  };
}
