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
    expect(new YamlFile(folded).with(['when'], 'args.amount <= 200.0 && args.amount > 0.0')).toBe('when: >-\n  args.amount <= 200.0 && args.amount > 0.0\n');
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
