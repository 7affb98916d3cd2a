import { expect, test } from 'vitest';
import { examples, rules, withExample, withRules } from './brief';
import { YamlFile } from './yaml-file';

const plain = new YamlFile('title: A\nbrief:\n  job: Help.\n  rules:\n    - Name the day.\n  examples:\n    - Good day.\n');

test('a list of rules is what is always done, until there is another sort', () => {
  expect(rules(plain, 'always')).toEqual(['Name the day.']);
  expect(rules(plain, 'never')).toEqual([]);
  expect(rules(new YamlFile(withRules(plain, 'always', ['Name the ship.'])), 'always')).toEqual(['Name the ship.']);
  const sorted = new YamlFile(withRules(plain, 'never', ['Guess.']));
  expect(rules(sorted, 'always')).toEqual(['Name the day.']);
  expect(rules(sorted, 'never')).toEqual(['Guess.']);
  expect(rules(new YamlFile(withRules(sorted, 'writing', ['Short.'])), 'writing')).toEqual(['Short.']);
});

test('examples are read and written by what they say', () => {
  expect(examples(plain)).toEqual([{ asked: '', output: 'Good day.' }]);
  const more = new YamlFile(withExample(plain, 1, { asked: 'When?', output: 'Soon!', why: 'no time' }));
  expect(examples(more)).toEqual([
    { asked: '', output: 'Good day.' },
    { asked: 'When?', output: 'Soon!', why: 'no time' },
  ]);
  const changed = new YamlFile(withExample(more, 0, { asked: 'Who?', output: 'Ines.' }));
  expect(examples(changed)[0]).toEqual({ asked: 'Who?', output: 'Ines.' });
  expect(examples(changed)[1]!.why).toBe('no time');
});
