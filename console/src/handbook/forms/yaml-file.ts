import { type Document, isMap, isScalar, isSeq, parseDocument } from 'yaml';

/** Which form fits a file; undefined where only the text does. */
export function formFor(path: string): 'agent' | 'intake' | 'kind' | 'mandate' | 'tools' | undefined {
  const found = /^(agents|intake|kinds|mandates|tools)\/[^/]+\.yaml$/.exec(path);
  if (!found || path.endsWith('.openapi.yaml')) {
    return undefined;
  }
  return ({ agents: 'agent', intake: 'intake', kinds: 'kind', mandates: 'mandate', tools: 'tools' } as const)[found[1] as 'agents'];
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
    const spliced = this.#spliced(path, value);
    if (spliced !== undefined) {
      return spliced;
    }
    const node = this.#document.getIn(path, true);
    if (isScalar(node) && typeof value === 'string' && value !== '') {
      node.value = value; // keeps the way it is written, such as a folded text
      return this.#written();
    }
    const empty = value === undefined || value === '' || (Array.isArray(value) && value.length === 0);
    if (empty) {
      this.#document.deleteIn(path);
    } else {
      this.#document.setIn(path, this.#document.createNode(value));
    }
    return this.#written();
  }

  /** Puts a plain value in the place of another one in the text itself, so that nothing around it is written anew. */
  #spliced(path: Key[], value: unknown): string | undefined {
    const node = this.#document.getIn(path, true);
    const plain = (typeof value === 'string' && value !== '' && !value.includes('\n')) || typeof value === 'boolean' || typeof value === 'number';
    if (!plain || !isScalar(node) || !node.range || node.type === 'BLOCK_FOLDED' || node.type === 'BLOCK_LITERAL') {
      return undefined;
    }
    const quoted = typeof value === 'string' && (node.type !== 'PLAIN' || !/^[A-Za-z][\w .<>=()&|*+/-]*$/.test(value));
    const written = quoted ? (node.type === 'QUOTE_SINGLE' && !value.includes("'") ? `'${value}'` : JSON.stringify(value)) : String(value);
    return this.#source.slice(0, node.range[0]) + written + this.#source.slice(node.range[1]);
  }

  #written(): string {
    return this.#document.toString({ lineWidth: 110, flowCollectionPadding: /[[{] \S/.test(this.#source) });
  }

  /** The file with one more item at the end of a list. */
  added(path: Key[], value: unknown): string {
    if (this.size(...path) === 0) {
      return this.with(path, [value]);
    }
    this.#document.addIn(path, this.#document.createNode(value));
    return this.#written();
  }
}
