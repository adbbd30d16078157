import { type Component } from 'vue';
import { type DatasetKind } from '@longheron/contract/kinds';
import { type Operation } from '@longheron/contract/operations';

/** A part of a stage: a folder of `stages/<stage>/`, whose name is the last part of its address. */
export interface PanelDeclaration {
  /** On its tab. */
  title: string;
  /** One line on what is done there, for the finder. */
  what: string;
  /** Place among the panels of its stage. */
  order: number;
  /** Operations whose forms it holds. */
  operations?: readonly Operation[];
  /** It stands back until the project holds one of these kinds; always in front without them. */
  kinds?: readonly DatasetKind[];
  /** It has holdings and a bench of its own, where its stage has them for all. */
  apart?: true;
  component: () => Promise<{ default: Component }>;
}

export const panel = (d: PanelDeclaration): PanelDeclaration => d;
