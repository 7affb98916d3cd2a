import { describe, expect, it } from 'vitest';
import { parse } from 'yaml';
import { BEGINNINGS } from './beginnings';

const OUTLINE = {
  steps: [],
  tools: {},
  groups: ['duty-managers'],
  desks: ['passengers'],
  agents: ['purser'],
  kinds: ['refund'],
  pages: [],
  fields: {},
};

describe('the beginning of a new file', () => {
  it.each(Object.keys(BEGINNINGS))('a %s names what this handbook has', (sort) => {
    const text = BEGINNINGS[sort]!.text('lost-keys', OUTLINE as never);
    const head = sort === 'page' ? text.split('---')[1]! : text;
    const value = parse(head) as Record<string, unknown>;
    expect(String(value['title'])).toMatch(/lost.keys/);
    expect(text).toMatch(/passengers|purser|refund/);
    expect(text).not.toContain('undefined');
  });

  it('still stands in an empty handbook', () => {
    for (const { text } of Object.values(BEGINNINGS)) expect(text('x', undefined)).not.toContain('undefined');
  });
});
