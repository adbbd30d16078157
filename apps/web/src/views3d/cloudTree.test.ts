import { describe, expect, it } from 'vitest';
import { type CloudIndex } from '@longheron/contract/api';
import { chooseNodes, readTree } from './cloudTree';

const nodes = [
  [0, 0, 0, 0, 0, 100],
  [1, 0, 0, 0, 100, 80],
  [1, 1, 0, 0, 180, 60],
  [2, 1, 1, 0, 240, 40],
].flat();
const index = { count: 280, origin: [0, 0, 0], scale: 0.001, rootM: 64, spacingM: 1, nodes } as unknown as CloudIndex;

describe('the tree of a stored cloud', () => {
  const tree = readTree(index);
  it('links children to parents and halves edge and spacing', () => {
    expect(tree[0].children).toEqual([1, 2]);
    expect(tree[1].children).toEqual([3]);
    expect(tree[3]).toMatchObject({ edgeM: 16, spacingM: 0.25, corner: [16, 16, 0] });
  });
  it('chooses near before far, parents before children, within the budget', () => {
    const near = (n: { id: number }) => (n.id === 2 ? 40 : 10);
    expect(chooseNodes(tree, near, 250, 1)).toEqual({ nodes: [0, 2, 1], points: 240, complete: false });
    expect(chooseNodes(tree, near, 1000, 1).complete).toBe(true);
  });
  it('stops where finer points would fall into the same pixel, and leaves out what is not seen', () => {
    expect(chooseNodes(tree, () => 1.5, 1000, 1).nodes).toEqual([0, 1, 2]);
    expect(chooseNodes(tree, (n) => (n.id === 1 ? 0 : 10), 1000, 1).nodes).toEqual([0, 2]);
  });
});
