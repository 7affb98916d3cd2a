import { autocompletion, completionKeymap } from '@codemirror/autocomplete';
import { defaultKeymap, history, historyKeymap, indentWithTab } from '@codemirror/commands';
import { markdown } from '@codemirror/lang-markdown';
import { yaml, yamlFrontmatter } from '@codemirror/lang-yaml';
import { HighlightStyle, LanguageDescription, syntaxHighlighting } from '@codemirror/language';
import { type Diagnostic, lintGutter, lintKeymap, setDiagnostics } from '@codemirror/lint';
import { EditorState } from '@codemirror/state';
import { drawSelection, EditorView, highlightActiveLine, keymap, lineNumbers } from '@codemirror/view';
import { tags } from '@lezer/highlight';
import type { Assessment, Finding } from '../api/client';
import { completions } from './completion';

const LOOK = EditorView.theme({
  '&': { height: '100%', fontSize: '14px', backgroundColor: 'var(--color-sheet)', color: 'var(--color-ink)' },
  '.cm-scroller': { fontFamily: 'var(--font-mono)', lineHeight: '1.5' },
  '.cm-content': { caretColor: 'var(--color-ink)' },
  '.cm-cursor': { borderLeftColor: 'var(--color-ink)' },
  '.cm-gutters': { backgroundColor: 'var(--color-paper)', color: 'var(--color-faint)', border: 'none' },
  '.cm-activeLine': { backgroundColor: 'color-mix(in srgb, var(--color-accent-soft) 55%, transparent)' },
  '.cm-activeLineGutter': { backgroundColor: 'transparent' },
  '&.cm-focused .cm-selectionBackground, .cm-selectionBackground': { backgroundColor: 'var(--color-accent-soft) !important' },
  '.cm-lint-marker': {
    content: '""',
    width: '0.55em',
    height: '0.55em',
    margin: '0.25em 0.2em',
    backgroundColor: 'var(--color-ink)',
    borderRadius: '1px',
  },
  '.cm-lint-marker-warning, .cm-lint-marker-info': {
    content: '""',
    backgroundColor: 'transparent',
    border: '1.5px solid var(--color-faint)',
  },
  '.cm-lintRange': { backgroundImage: 'none', borderBottom: '2px dotted var(--color-ink)' },
  '.cm-lintRange-warning, .cm-lintRange-info': { borderBottomColor: 'var(--color-faint)' },
  '.cm-tooltip': { backgroundColor: 'var(--color-sheet)', color: 'var(--color-ink)', border: '1px solid var(--color-line)' },
  '.cm-tooltip-autocomplete ul li[aria-selected]': { backgroundColor: 'var(--color-accent)', color: 'var(--color-sheet)' },
  '.cm-diagnostic': { maxWidth: '34rem', whiteSpace: 'normal', fontFamily: 'var(--font-sans)', borderLeftColor: 'var(--color-ink)' },
});

const WORDS = HighlightStyle.define([
  { tag: tags.heading, fontWeight: '700' },
  { tag: [tags.propertyName, tags.definition(tags.propertyName)], color: 'var(--color-accent)', fontWeight: '600' },
  { tag: [tags.string, tags.special(tags.string)], color: 'var(--color-ink)' },
  { tag: [tags.comment, tags.meta, tags.processingInstruction, tags.separator], color: 'var(--color-faint)' },
  { tag: [tags.number, tags.bool, tags.null], fontStyle: 'italic' },
  { tag: tags.emphasis, fontStyle: 'italic' },
  { tag: tags.strong, fontWeight: '700' },
  { tag: tags.link, textDecoration: 'underline' },
]);

/** What the editor tells and asks. */
export interface Wishes {
  onType: (text: string) => void;
  onLine: (line: number) => void;
  outline: () => Assessment['outline'] | undefined;
}

/** The text editor of handbook files. It lives in a shadow root, so that its styles need no exception in the page's policy. */
export class Editor {
  #view: EditorView;

  constructor(host: HTMLElement, label: string, text: string, path: string, wishes: Wishes) {
    const root = host.shadowRoot ?? host.attachShadow({ mode: 'open' });
    const place = document.createElement('div');
    place.style.height = '100%';
    root.replaceChildren(place);
    this.#view = new EditorView({
      root,
      parent: place,
      state: EditorState.create({
        doc: text,
        extensions: [
          lineNumbers(),
          history(),
          drawSelection(),
          highlightActiveLine(),
          lintGutter(),
          EditorView.lineWrapping,
          path.endsWith('.md')
            ? yamlFrontmatter({ content: markdown({ codeLanguages: [LanguageDescription.of({ name: 'step', support: yaml() })] }) })
            : yaml(),
          syntaxHighlighting(WORDS),
          autocompletion({ override: [completions(wishes.outline)] }),
          keymap.of([...completionKeymap, ...defaultKeymap, ...historyKeymap, ...lintKeymap, indentWithTab]),
          LOOK,
          EditorView.contentAttributes.of({ 'aria-label': label, spellcheck: 'false' }),
          EditorView.updateListener.of((update) => {
            if (update.docChanged) {
              wishes.onType(update.state.doc.toString());
            }
            if (update.selectionSet) {
              wishes.onLine(update.state.doc.lineAt(update.state.selection.main.head).number);
            }
          }),
        ],
      }),
    });
    // a part that scrolls must be reachable by keyboard, and say what it is
    this.#view.scrollDOM.tabIndex = 0;
    this.#view.scrollDOM.setAttribute('role', 'region');
    this.#view.scrollDOM.setAttribute('aria-label', label);
  }

  get text(): string {
    return this.#view.state.doc.toString();
  }

  replace(text: string): void {
    if (text !== this.text) {
      this.#view.dispatch({ changes: { from: 0, to: this.#view.state.doc.length, insert: text } });
    }
  }

  show(findings: Finding[]): void {
    this.#view.dispatch(
      setDiagnostics(
        this.#view.state,
        findings.map((finding) => this.#diagnostic(finding)),
      ),
    );
  }

  #diagnostic(finding: Finding): Diagnostic {
    const doc = this.#view.state.doc;
    const line = doc.line(Math.min(Math.max(1, finding.place.line), doc.lines));
    const from = Math.min(line.from + finding.place.column - 1, line.to);
    const word = /^[^\s,}\]"']+/.exec(line.text.slice(from - line.from));
    return {
      from,
      to: word ? from + word[0].length : line.to,
      severity: finding.severity === 'hint' ? 'info' : finding.severity,
      message: `${finding.what} ${finding.remedy}`,
    };
  }

  /** Brings a line into view and puts the cursor there. */
  goTo(number: number): void {
    const doc = this.#view.state.doc;
    const line = doc.line(Math.min(Math.max(1, number), doc.lines));
    this.#view.dispatch({ selection: { anchor: line.from }, effects: EditorView.scrollIntoView(line.from, { y: 'start', yMargin: 24 }) });
    this.#view.focus();
  }

  close(): void {
    this.#view.destroy();
  }
}
