import { describe, expect, it } from 'vitest';
import { formFor, YamlFile } from './yaml-file';

const TEXT = `# who pays
title: What the purser may do
for: [purser]
grants:
  # small ones
  - name: small
    tools: [fares.pay-refund]
    when: args.amount <= 120.0
    verdict: allow
`;

describe('a YAML file behind a form', () => {
  it('keeps comments and everything else that was not touched', () => {
    const changed = new YamlFile(TEXT).with(['grants', 0, 'when'], 'args.amount <= 200.0');
    expect(changed).toBe(TEXT.replace('120.0', '200.0'));
  });

  it('quotes what would be read as something else', () => {
    expect(new YamlFile('title: x\n').with(['title'], 'a: b # c')).toBe('title: "a: b # c"\n');
    expect(new YamlFile('title: x\n').with(['title'], 'yes')).toBe('title: yes\n');
    expect(new YamlFile("when: 'a == 1'\n").with(['when'], 'a == 2')).toBe("when: 'a == 2'\n");
  });

  it('leaves a folded text folded', () => {
    const folded = 'when: >-\n  args.amount <= 120.0\n  && args.amount > 0.0\n';
    expect(new YamlFile(folded).with(['when'], 'args.amount <= 200.0 && args.amount > 0.0')).toBe(
      'when: >-\n  args.amount <= 200.0 && args.amount > 0.0\n',
    );
  });

  const MIXED = `for: [purser]   # lists tight, maps wide
grants:
  - name: one
    when: >-
      args.amount <= 120.0
      && args.amount > 0.0
    limits:
      - { at-most: 1, per: [case] }
    verdict: allow   # for now
  - name: two
    when: >-
      args.a == 1

      && args.b == 2
    verdict: ask
never:
  - name: none
    tools: [x.*]
`;

  it.each([
    ['a folded text', ['grants', 0, 'when'], 'args.amount <= 200.0 && args.amount > 0.0', '120.0\n      &&', '200.0 &&'],
    ['a tight list', ['for'], ['purser', 'clerk'], '[purser]', '[purser, clerk]'],
    ['a key taken out', ['grants', 0, 'verdict'], '', '    verdict: allow   # for now\n', ''],
    ['an item taken out', ['grants', 1], undefined, MIXED.slice(MIXED.indexOf('  - name: two'), MIXED.indexOf('never:')), ''],
    ['a key put in', ['grants', 1, 'of'], 'clerks', '    verdict: ask\n', '    verdict: ask\n    of: clerks\n'],
    ['a list put in', ['grants', 1, 'tools'], ['a.b'], '    verdict: ask\n', '    verdict: ask\n    tools:\n      - a.b\n'],
    ['a key at the very end', ['never', 0, 'of'], 'clerks', '[x.*]\n', '[x.*]\n    of: clerks\n'],
  ])('leaves every other line as it is: %s', (_, path, value, from, to) => {
    expect(MIXED).toContain(from);
    expect(new YamlFile(MIXED).with(path, value)).toBe(MIXED.replace(from, to));
  });

  it('adds an item and leaves every other line as it is', () => {
    expect(new YamlFile(MIXED).added(['grants'], { name: 'three', verdict: 'deny' })).toBe(
      MIXED.replace('never:', '  - name: three\n    verdict: deny\nnever:'),
    );
    expect(new YamlFile('a:\n- x').added(['a'], 'y')).toBe('a:\n- x\n- y\n');
  });

  it('writes all anew only where it must', () => {
    expect(new YamlFile('- name: x\n  of: y\n').with([0, 'name'], '')).toBe('- of: y\n');
    expect(new YamlFile('a: { b: 1, c: 2 }\n').with(['a', 'b'], '')).toBe('a: { c: 2 }\n');
  });

  it('takes a key out when its value is emptied, and adds items', () => {
    expect(new YamlFile(TEXT).with(['grants', 0, 'when'], '')).not.toContain('when');
    expect(new YamlFile(TEXT).added(['grants'], { name: 'more', tools: ['x.y'], verdict: 'ask' })).toContain('name: more');
    expect(new YamlFile('title: x\n').added(['grants'], { name: 'first' })).toContain('- name: first');
  });

  it('reads lists, single texts and keys', () => {
    const file = new YamlFile(TEXT);
    expect(file.list('for')).toEqual(['purser']);
    expect(new YamlFile('for: purser').list('for')).toEqual(['purser']);
    expect(file.size('grants')).toBe(1);
    expect(new YamlFile('fields: { a: {}, b: {} }').keys('fields')).toEqual(['a', 'b']);
  });

  it('knows which files have a form, and when one cannot be read', () => {
    expect(formFor('agents/purser.yaml')).toBe('agent');
    expect(formFor('tools/fares.openapi.yaml')).toBeUndefined();
    expect(formFor('runbooks/x.md')).toBeUndefined();
    expect(new YamlFile('a: [').readable).toBe(false);
  });
});
