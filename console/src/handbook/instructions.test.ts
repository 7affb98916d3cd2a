import { describe, expect, it } from 'vitest';
import { parse } from 'yaml';
import { INSTRUCTIONS, withStep } from './instructions';

const END = '## Done\n```step\nfinish: resolved\n```\n';

describe('instructions to begin with', () => {
  it.each(Object.entries(INSTRUCTIONS))('%s is a heading, words enough to go by, and one block', (_, step) => {
    expect(step).toMatch(/^## .+\n[^`]{90,}```step\n[^`]+```\n$/);
    expect(parse(/```step\n([^`]+)```/.exec(step)![1]!)).toHaveProperty('save');
  });

  it('stand before the end of a page', () => {
    const page = '---\ntitle: a\n---\n\n' + END;
    const longer = withStep(page, INSTRUCTIONS['sort by kinds']!);
    expect(longer.indexOf('## What is it about?')).toBeLessThan(longer.indexOf('## Done'));
    expect(longer.endsWith(END)).toBe(true);
  });

  it('stand behind everything where the last step is no end', () => {
    const page = '## Look\n```step\ncall: a.b\nsave: c\n```\n';
    expect(withStep(page, 'X\n')).toBe('## Look\n```step\ncall: a.b\nsave: c\n```\n\nX\n');
  });
});
