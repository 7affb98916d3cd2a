import { Document, isMap, isScalar, isSeq, type Node, parseDocument, type Scalar, type YAMLSeq } from 'yaml';

/** How wide folded texts are written. */
const WIDTH = 90;

/** Which form fits a file; undefined where only the text does. */
export type Form = 'agent' | 'intake' | 'kind' | 'mandate' | 'rehearsal' | 'tools';

export function formFor(path: string): Form | undefined {
  const found = /^(agents|intake|kinds|mandates|rehearsals|tools)\/[^/]+\.yaml$/.exec(path);
  if (!found || path.endsWith('.openapi.yaml')) {
    return undefined;
  }
  const forms = { agents: 'agent', intake: 'intake', kinds: 'kind', mandates: 'mandate', rehearsals: 'rehearsal', tools: 'tools' } as const;
  return forms[found[1] as keyof typeof forms];
}

type Key = string | number;

/** A YAML file that a form reads and writes; comments and order of what isn't touched stay as they are. */
export class YamlFile {
  #document: Document;
  #source: string;

  constructor(text: string) {
    this.#source = text;
    this.#document = parseDocument(text);
  }

  /** Whether a form can show it at all. */
  get readable(): boolean {
    return this.#document.errors.length === 0 && isMap(this.#document.contents);
  }

  text(...path: Key[]): string {
    const value = this.#document.getIn(path);
    return value === undefined || value === null || typeof value === 'object' ? '' : String(value);
  }

  /** A value of any shape; undefined where there is none. */
  value(...path: Key[]): unknown {
    const value = this.#document.getIn(path);
    return isMap(value) || isSeq(value) ? (value.toJS(this.#document) as unknown) : (value ?? undefined);
  }

  yes(...path: Key[]): boolean {
    return this.#document.getIn(path) === true;
  }

  /** A list of texts; a single text counts as a list of one. */
  list(...path: Key[]): string[] {
    const value = this.#document.getIn(path);
    if (isSeq(value)) {
      return value.items.map((item) => String((item as { value?: unknown }).value ?? item));
    }
    return value === undefined || value === null ? [] : [String(value)];
  }

  /** The keys of a map. */
  keys(...path: Key[]): string[] {
    const value = this.#document.getIn(path);
    return isMap(value) ? value.items.map((pair) => String((pair.key as { value?: unknown })?.value ?? pair.key)) : [];
  }

  /** How many items a list has. */
  size(...path: Key[]): number {
    const value = this.#document.getIn(path);
    return isSeq(value) ? value.items.length : 0;
  }

  /** The file with one value changed; an empty text or list, or undefined, takes the key out. */
  with(path: Key[], value: unknown): string {
    const empty = value === undefined || value === '' || (Array.isArray(value) && value.length === 0);
    const changed = parseDocument(this.#source);
    if (empty) {
      changed.deleteIn(path);
    } else {
      const node = changed.getIn(path, true);
      if (isScalar(node) && typeof value === 'string') {
        node.value = value; // keeps the way it is written, such as a folded text
      } else {
        changed.setIn(path, changed.createNode(value));
      }
    }
    const node = this.#document.getIn(path, true) as Node | undefined;
    return this.#spliced(changed, empty ? this.#without(path) : node ? this.#replaced(node, value) : this.#withKey(path, value));
  }

  /** The file with one more item at the end of a list. */
  added(path: Key[], value: unknown): string {
    const list = this.#document.getIn(path, true);
    if (!isSeq(list) || list.items.length === 0) {
      return this.with(path, [value]);
    }
    const changed = parseDocument(this.#source);
    changed.addIn(path, changed.createNode(value));
    const last = list.items.at(-1) as Node;
    return this.#spliced(changed, list.flow ? undefined : this.#after(last, this.#column(this.#dash(last)), this.#yaml([value])));
  }

  /**
   * A change made in the text itself, so that nothing around it is written anew; where there is none, or it doesn't come to the
   * same as the changed document, all of that is written.
   */
  #spliced(changed: Document, text: string | undefined): string {
    if (text !== undefined) {
      const read = parseDocument(text);
      if (read.errors.length === 0 && JSON.stringify(read.toJS()) === JSON.stringify(changed.toJS())) {
        return text;
      }
    }
    return changed.toString(this.#style);
  }

  #replaced(node: Node, value: unknown): string | undefined {
    const [from, to] = node.range!;
    const put = (written: string): string => this.#source.slice(0, from) + written + this.#source.slice(to);
    if (isScalar(node) && (node.type === 'BLOCK_FOLDED' || node.type === 'BLOCK_LITERAL')) {
      const block = this.#source.slice(from, to);
      const head = block.slice(0, block.indexOf('\n') + 1);
      const indent = /^ */.exec(block.slice(head.length))![0];
      const lines = node.type === 'BLOCK_LITERAL' ? String(value).split('\n') : folded(String(value), WIDTH - indent.length);
      return put(head + lines.map((line) => indent + line + '\n').join(''));
    }
    if (isScalar(node) && typeof value !== 'object') {
      const quoted = typeof value === 'string' && (node.type !== 'PLAIN' || !/^[A-Za-z][\w .<>=()&|*+/-]*$/.test(value));
      return put(quoted ? (node.type === 'QUOTE_SINGLE' && !value.includes("'") ? `'${value}'` : JSON.stringify(value)) : String(value));
    }
    if (isSeq(node) && node.flow && Array.isArray(value)) {
      const list = new Document(value);
      (list.contents as YAMLSeq).flow = true;
      return put(list.toString({ lineWidth: 0, flowCollectionPadding: this.#source[from + 1] === ' ' }).trim());
    }
    return undefined;
  }

  /** The text without a key or an item that has lines of its own. */
  #without(path: Key[]): string | undefined {
    const holder = this.#document.getIn(path.slice(0, -1), true);
    let from: number | undefined;
    let last: Node | undefined;
    if (isMap(holder) && !holder.flow) {
      const pair = holder.items.find((item) => String((item.key as Scalar).value) === path.at(-1));
      from = (pair?.key as Scalar | undefined)?.range![0];
      last = (pair?.value ?? pair?.key) as Node | undefined;
    } else if (isSeq(holder) && !holder.flow) {
      last = holder.items[path.at(-1) as number] as Node | undefined;
      from = last && this.#dash(last);
    }
    if (from === undefined || this.#source.slice(from - this.#column(from), from).trim() !== '') {
      return undefined;
    }
    return this.#source.slice(0, from - this.#column(from)) + this.#source.slice(this.#end(last!));
  }

  /** The text with a new key at the end of a map that has lines of its own. */
  #withKey(path: Key[], value: unknown): string | undefined {
    const map = this.#document.getIn(path.slice(0, -1), true);
    if (!isMap(map) || map.flow || map.items.length === 0) {
      return undefined;
    }
    const last = map.items.at(-1)!;
    const column = this.#column((map.items[0]!.key as Scalar).range![0]);
    return this.#after((last.value as Node | null) ?? (last.key as Node), column, this.#yaml({ [path.at(-1)!]: value }));
  }

  /** Puts lines behind those of a node, set in to a column. */
  #after(node: Node, column: number, lines: string): string {
    const end = this.#end(node);
    const before = this.#source.slice(0, end);
    return before + (before.endsWith('\n') ? '' : '\n') + lines.replace(/^(?=.)/gm, ' '.repeat(column)) + this.#source.slice(end);
  }

  /** Where the line ends on which a node does. */
  #end(node: Node): number {
    const last = node.range![1];
    const end = this.#source[last - 1] === '\n' ? last : this.#source.indexOf('\n', last) + 1;
    return end === 0 ? this.#source.length : end;
  }

  /** Where the dash before an item of a list stands. */
  #dash(item: Node): number {
    return this.#source.lastIndexOf('-', item.range![0] - 1);
  }

  #column(at: number): number {
    return at - (this.#source.lastIndexOf('\n', at - 1) + 1);
  }

  #yaml(value: unknown): string {
    return new Document(value).toString(this.#style);
  }

  /** How new lines are written: as near to the file's own as can be told. */
  get #style(): { lineWidth: number; flowCollectionPadding: boolean } {
    return { lineWidth: WIDTH, flowCollectionPadding: /[[{] \S/.test(this.#source) };
  }
}

/** A text in lines that YAML folds into one again. */
function folded(text: string, width: number): string[] {
  const lines = [''];
  for (const word of text.split(' ')) {
    const line = lines.at(-1)!;
    if (line === '') {
      lines[lines.length - 1] = word;
    } else if (line.length + 1 + word.length > width) {
      lines.push(word);
    } else {
      lines[lines.length - 1] = `${line} ${word}`;
    }
  }
  return lines;
}
