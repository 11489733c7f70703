import {
  acceptCompletion,
  autocompletion,
  completionKeymap,
  type Completion as Offer,
  type CompletionContext,
  type CompletionResult,
} from '@codemirror/autocomplete';
import { defaultKeymap, history, historyKeymap } from '@codemirror/commands';
import { lintKeymap, setDiagnostics, type Diagnostic } from '@codemirror/lint';
import { Compartment, EditorState, RangeSetBuilder } from '@codemirror/state';
import {
  Decoration,
  EditorView,
  keymap,
  placeholder as hint,
  ViewPlugin,
  type DecorationSet,
  type ViewUpdate,
} from '@codemirror/view';
import { useEffect, useImperativeHandle, useLayoutEffect, useRef, type Ref } from 'react';
import type { Problem } from '../../core/formula/ast.ts';
import { complete, type Completion } from '../../core/formula/complete.ts';
import type { CompileOptions } from '../../core/formula/compile.ts';
import { evaluate } from '../../core/formula/evaluate.ts';
import { builtinNames } from '../../core/formula/builtins/index.ts';
import { KEYWORDS } from '../../core/formula/keywords.ts';

export interface CodeHandle {
  /** Puts a text in at the cursor and goes on behind it. */
  insert(text: string): void;
  focus(): void;
}

interface Props {
  value: string;
  label: string;
  options: CompileOptions;
  problems: readonly Problem[];
  placeholder?: string;
  autoFocus?: boolean;
  onChange(text: string): void;
  onFocus?(focused: boolean): void;
  /** Control or Command with Enter. */
  onDone?(): void;
  ref?: Ref<CodeHandle>;
}

/** Where a formula is written: names in colour, completion with help and examples, problems underlined in place. */
export function CodeEditor(props: Props) {
  const { value, label, problems, placeholder = '', autoFocus = false, ref } = props;
  const box = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView | null>(null);
  // The editor lives longer than one render; it looks here for what is current.
  const now = useRef(props);
  useLayoutEffect(() => {
    now.current = props;
  });

  useEffect(() => {
    const editor = new EditorView({
      parent: box.current!,
      state: EditorState.create({
        doc: now.current.value,
        extensions: [
          history(),
          keymap.of([
            { key: 'Mod-Enter', run: () => (now.current.onDone?.(), true) },
            { key: 'Tab', run: acceptCompletion },
            ...completionKeymap,
            ...historyKeymap,
            ...defaultKeymap,
            ...lintKeymap,
          ]),
          autocompletion({
            override: [(c) => offers(c, now.current.options)],
            icons: false,
            interactionDelay: 0,
            maxRenderedOptions: 60,
            optionClass: (o) => `kite-offer-${o.type ?? ''}`,
          }),
          colours(() => now.current.options),
          EditorView.lineWrapping,
          hint(placeholder),
          described.of(EditorView.contentAttributes.of({ 'aria-label': label })),
          EditorView.updateListener.of((u) => {
            if (u.docChanged) now.current.onChange(u.state.doc.toString());
            if (u.focusChanged) now.current.onFocus?.(u.view.hasFocus);
          }),
        ],
      }),
    });
    view.current = editor;
    if (autoFocus) editor.focus();
    return () => editor.destroy();
  }, []);

  useEffect(() => {
    const editor = view.current!;
    const text = editor.state.doc.toString();
    if (text !== value) editor.dispatch({ changes: { from: 0, to: text.length, insert: value } });
  }, [value]);

  useEffect(() => {
    const editor = view.current!;
    const length = editor.state.doc.length;
    const marks = problems.map((p): Diagnostic => {
      const from = Math.min(p.from, length);
      return { from, to: Math.min(Math.max(p.to, from), length), severity: p.severity, message: p.message };
    });
    const broken = problems.some((p) => p.severity === 'error');
    editor.dispatch(setDiagnostics(editor.state, marks), {
      effects: described.reconfigure(
        EditorView.contentAttributes.of({ 'aria-label': label, 'aria-invalid': String(broken) }),
      ),
    });
  }, [problems, label]);

  useImperativeHandle(
    ref,
    () => ({
      insert: (text) => {
        const editor = view.current!;
        editor.dispatch(editor.state.replaceSelection(text), { scrollIntoView: true });
        editor.focus();
      },
      focus: () => view.current?.focus(),
    }),
    [],
  );
  return <div ref={box} className="kite-code" />;
}

const described = new Compartment();

function offers(context: CompletionContext, options: CompileOptions): CompletionResult | null {
  const text = context.state.doc.toString();
  const found = complete(text, context.pos, options);
  if (!found || found.items.length === 0) return null;
  // Nothing is typed yet: only when asked for, or behind a dot or a bracket.
  if (!context.explicit && found.from === context.pos && !/[.[(]$/.test(text.slice(0, context.pos))) return null;
  const groups = [...new Set(found.items.map((i) => i.group))];
  return {
    from: found.from,
    filter: false,
    // Typing on is answered at once, so that Enter right after a letter takes the choice it shows.
    update: (_before, _from, _to, later) => offers(later, options),
    options: found.items.slice(0, 200).map((i, at): Offer => ({
      label: i.label,
      apply: i.insert,
      type: i.kind,
      detail: i.detail,
      boost: -at / 1000,
      section: { name: i.group, rank: groups.indexOf(i.group) },
      ...((i.help ?? i.example) && { info: () => describe(i) }),
    })),
  };
}

/** The card beside a function: what it does, and an example worked out. */
function describe(i: Completion): HTMLElement {
  const card = document.createElement('div');
  const help = document.createElement('p');
  help.textContent = i.help ?? '';
  card.append(help);
  if (i.example) {
    const code = document.createElement('code');
    const { value } = evaluate(i.example);
    code.textContent = `${i.example} = ${JSON.stringify(value)}`;
    card.append(code);
  }
  return card;
}

const MARKS = {
  text: Decoration.mark({ class: 'kite-text' }),
  number: Decoration.mark({ class: 'kite-number' }),
  word: Decoration.mark({ class: 'kite-word' }),
  name: Decoration.mark({ class: 'kite-name' }),
  call: Decoration.mark({ class: 'kite-call' }),
};

/** Colours names that are known here, functions, words of the language, texts and numbers. */
function colours(options: () => CompileOptions) {
  const calls = new Set(builtinNames());
  return ViewPlugin.fromClass(
    class {
      decorations: DecorationSet;
      constructor(view: EditorView) {
        this.decorations = this.find(view);
      }
      update(u: ViewUpdate): void {
        if (u.docChanged) this.decorations = this.find(u.view);
      }
      private find(view: EditorView): DecorationSet {
        const { names = [], shapes } = options();
        const known = new Set([...names.map((n) => n.name), ...(shapes?.memberNames() ?? [])]);
        const text = view.state.doc.toString();
        const marks = new RangeSetBuilder<Decoration>();
        const token =
          /"(?:[^"\\]|\\.)*"?|\d+(?:\.\d+)?|[\p{L}_][\p{L}\p{N}_·\p{M}'’]*(?: +[\p{L}_][\p{L}\p{N}_·\p{M}'’]*)*/gu;
        for (const m of text.matchAll(token)) {
          if (m[0].startsWith('"')) marks.add(m.index, m.index + m[0].length, MARKS.text);
          else if (/^\d/.test(m[0])) marks.add(m.index, m.index + m[0].length, MARKS.number);
          else for (const [from, to, mark] of words(m[0], m.index, known, calls)) marks.add(from, to, mark);
        }
        return marks.finish();
      }
    },
    { decorations: (p) => p.decorations },
  );
}

/** Divides words with spaces between them into the longest names that are known. */
function words(
  text: string,
  offset: number,
  known: ReadonlySet<string>,
  calls: ReadonlySet<string>,
): [number, number, Decoration][] {
  const parts = [...text.matchAll(/[^ ]+/g)];
  const out: [number, number, Decoration][] = [];
  for (let i = 0; i < parts.length;) {
    let taken = 1;
    let mark: Decoration | null = KEYWORDS.has(parts[i]![0]) || parts[i]![0] === 'not' ? MARKS.word : null;
    for (let end = parts.length; end > i; end--) {
      const last = parts[end - 1]!;
      const name = text.slice(parts[i]!.index, last.index + last[0].length).replace(/ +/g, ' ');
      const found = known.has(name) ? MARKS.name : calls.has(name) ? MARKS.call : null;
      if (!found) continue;
      mark = found;
      taken = end - i;
      break;
    }
    const first = parts[i]!;
    const last = parts[i + taken - 1]!;
    if (mark) out.push([offset + first.index, offset + last.index + last[0].length, mark]);
    i += taken;
  }
  return out;
}
