/** Room left and right of every plot against time, pixels: axes and strips stand under each other. */
export const PLOT_LEFT = 54;
export const PLOT_RIGHT = 12;
/** Figures of axes. */
export const CHART_FONT = { family: 'IBM Plex Mono', size: 12 };
