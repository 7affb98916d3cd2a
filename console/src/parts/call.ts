import type { FoundAt } from '../documents/found';

/** A call as it was proposed: its inputs by name, with where each came from. */
export type ProposedCall = {
  tool: string;
  inputs: Record<string, unknown>;
  origins: Record<string, string[]>;
  places?: Record<string, string>;
  found?: Record<string, FoundAt>;
  amounts?: string[];
};
