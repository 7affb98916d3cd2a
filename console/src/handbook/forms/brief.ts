import type { YamlFile } from './yaml-file';

/** Sorts of rules of a brief; a plain list of rules is what an agent always does. */
export const sorts = ['always', 'never', 'writing'] as const;
export type Sort = (typeof sorts)[number];

/** An example of work; `why` says what is bad about it, and is undefined for good work. */
export type Example = { asked: string; output: string; why?: string };

const RULES = ['brief', 'rules'];
const EXAMPLES = ['brief', 'examples'];

export function rules(file: YamlFile, sort: Sort): string[] {
  return file.keys(...RULES).length ? file.list(...RULES, sort) : sort === 'always' ? file.list(...RULES) : [];
}

/** The file with other rules of a sort; a list stays one as long as that is enough. */
export function withRules(file: YamlFile, sort: Sort, values: string[]): string {
  if (file.keys(...RULES).length) return file.with([...RULES, sort], values);
  return sort === 'always' ? file.with(RULES, values) : file.with(RULES, { always: file.list(...RULES), [sort]: values });
}

export function examples(file: YamlFile): Example[] {
  return [...Array(file.size(...EXAMPLES)).keys()].map((at) => {
    const keys = file.keys(...EXAMPLES, at);
    if (!keys.length) return { asked: '', output: file.text(...EXAMPLES, at) };
    const asked = file.text(...EXAMPLES, at, 'asked');
    return keys.includes('bad')
      ? { asked, output: file.text(...EXAMPLES, at, 'bad'), why: file.text(...EXAMPLES, at, 'why') }
      : { asked, output: file.text(...EXAMPLES, at, 'good') };
  });
}

/** The file with one example changed, or one more at the end. */
export function withExample(file: YamlFile, at: number, example: Example): string {
  const written = yaml(example);
  return at < file.size(...EXAMPLES) ? file.with([...EXAMPLES, at], written) : file.added(EXAMPLES, written);
}

function yaml({ asked, output, why }: Example): unknown {
  if (why !== undefined) return { ...(asked && { asked }), bad: output, why };
  return asked ? { asked, good: output } : output;
}
