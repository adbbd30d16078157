/** Arguments of a Chromium without screen, graphics card and network. */
export const CHROMIUM_ARGUMENTS: string[];
