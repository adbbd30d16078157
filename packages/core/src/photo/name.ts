/** A name without its folders and its ending, whatever its case: pictures are known by it. */
export const imageKey = (name: string): string =>
  name
    .replace(/^.*[\\/]/, '')
    .replace(/\.(jpe?g|tiff?|png)$/i, '')
    .toLowerCase();
