/** A share as percent; small ones with a decimal. */
export const percent = (share: number | null) =>
  share === null ? 'none' : `${(100 * share).toFixed(share < 0.1 || (share > 0.99 && share < 0.9995) ? 1 : 0)} %`;
