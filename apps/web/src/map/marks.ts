import { Circle, Fill, RegularShape, Stroke, Style, Text } from 'ol/style';
import { SIGNED, css } from '../ui/colour';

export interface MapMark {
  name: string;
  role: 'control' | 'check' | 'unused';
  eastingM: number;
  northingM: number;
  /** Metres; colours the mark when there. */
  residualM?: number | null;
  flagged?: boolean;
  leftOut?: boolean;
}

/** Full scale of the residual colours, metres. */
export const RESIDUAL_SCALE_M = 0.06;

/** Control: a ring with a centre point; check: a square with one; unused: a grey cross. */
export function markStyle(m: MapMark, strong: boolean): Style[] {
  const known = m.residualM !== undefined && m.residualM !== null;
  const fill = known ? css(SIGNED, 0.5 + m.residualM! / (2 * RESIDUAL_SCALE_M)) : '#ffffff';
  const colour = m.flagged ? '#a8402e' : '#15262c';
  const radius = strong ? 9 : 6.5;
  const stroke = new Stroke({ color: colour, width: m.flagged || strong ? 2.4 : 1.6 });
  const text = new Text({
    text: m.name,
    font: `${strong ? 600 : 400} 12px IBM Plex Sans`,
    offsetX: radius + 3,
    textAlign: 'left',
    declutterMode: 'declutter',
    fill: new Fill({ color: '#15262c' }),
    stroke: new Stroke({ color: '#ffffff', width: 3 }),
  });
  if (m.role === 'unused' || m.leftOut)
    return [
      new Style({
        image: new RegularShape({
          points: 4,
          radius,
          radius2: 0,
          angle: Math.PI / 4,
          stroke: new Stroke({ color: '#7c8b90', width: 1.6 }),
          declutterMode: 'none',
        }),
        text,
      }),
    ];
  const shape =
    m.role === 'control'
      ? new Circle({ radius, stroke, fill: new Fill({ color: fill }), declutterMode: 'none' })
      : new RegularShape({
          points: 4,
          radius: radius * 1.25,
          angle: Math.PI / 4,
          stroke,
          fill: new Fill({ color: fill }),
          declutterMode: 'none',
        });
  return [
    new Style({ image: shape, text }),
    new Style({
      zIndex: 1,
      image: new Circle({ radius: 1.6, fill: new Fill({ color: colour }), declutterMode: 'none' }),
    }),
  ];
}
