import {
  acceptCompletion,
  autocompletion,
  completionKeymap,
  type CompletionContext,
  type CompletionResult,
} from '@codemirror/autocomplete';
import { defaultKeymap, history, historyKeymap } from '@codemirror/commands';
import { EditorState, RangeSetBuilder, type Extension } from '@codemirror/state';
import {
  Decoration,
  EditorView,
  keymap,
  placeholder as hint,
  ViewPlugin,
  WidgetType,
  type DecorationSet,
  type ViewUpdate,
} from '@codemirror/view';
import { typedIn } from '../state/phone-first.ts';
import { insideOf, joinPieces, pieces, placed, type Placed } from '../../core/records/words.ts';

/**
 * Words with chips standing in them, as a text editor holds them: each value is a run of text between two signs that
 * nobody types, drawn as a chip and taken as one. So undo, copying and moving are the editor's own.
 */
const OPEN = '\uE000';
const CLOSE = '\uE001';
const CHIP = /\uE000([^\uE001]*)\uE001/g;

export const encodedPlace = (p: Placed): string => `${OPEN}${insideOf(p)}${CLOSE}`;

/** Stored words as the editor holds them. */
export const encoded = (template: string): string =>
  pieces(template)
    .map((p) => ('words' in p ? p.words.replace(/[\uE000\uE001]/g, '') : encodedPlace(p)))
    .join('');

/** What the editor holds as stored words. */
export function decoded(text: string): string {
  const list: Parameters<typeof joinPieces>[0][number][] = [];
  let at = 0;
  for (const m of text.matchAll(CHIP)) {
    if (m.index > at) list.push({ words: text.slice(at, m.index) });
    list.push(placed(m[1]!));
    at = m.index + m[0].length;
  }
  if (at < text.length) list.push({ words: text.slice(at) });
  return joinPieces(list);
}

/** A chip that was pressed: where it stands in the text, what it holds, and where it is on the page. */
export interface Pressed {
  from: number;
  to: number;
  place: Placed;
  rect: DOMRect;
}

export interface WordsHome {
  label: string;
  placeholder: string;
  /** What a chip is called. */
  nameOf(place: Placed): string;
  /** Is its formula broken? */
  isBroken(place: Placed): boolean;
  /** Values to choose from when a brace is typed. */
  offers(): { label: string; stored: string; group: string }[];
  /** A name or formula typed between braces, as it is stored; null when it does not work out. */
  read(typed: string): string | null;
  onChange(template: string): void;
  onPress(pressed: Pressed): void;
}

class ChipWidget extends WidgetType {
  constructor(
    private readonly place: Placed,
    private readonly label: string,
    private readonly broken: boolean,
    private readonly press: (chip: HTMLElement) => void,
  ) {
    super();
  }
  override eq(other: ChipWidget): boolean {
    return insideOf(other.place) === insideOf(this.place) && other.label === this.label && other.broken === this.broken;
  }
  override toDOM(): HTMLElement {
    const chip = document.createElement('button');
    chip.type = 'button';
    chip.className = 'kite-chip';
    chip.dataset['chip'] = this.broken ? 'empty' : 'data';
    chip.tabIndex = -1;
    chip.textContent = this.label;
    chip.title = this.label;
    chip.addEventListener('mousedown', (e) => e.preventDefault());
    chip.addEventListener('click', () => this.press(chip));
    return chip;
  }
  override ignoreEvent(): boolean {
    return true;
  }
}

/** Draws the chips, and makes each one thing for the cursor. */
function chips(home: () => WordsHome): Extension {
  const plugin = ViewPlugin.fromClass(
    class {
      decorations: DecorationSet;
      constructor(view: EditorView) {
        this.decorations = this.find(view);
      }
      update(u: ViewUpdate): void {
        if (u.docChanged || u.transactions.some((t) => t.isUserEvent('kite.names')))
          this.decorations = this.find(u.view);
      }
      private find(view: EditorView): DecorationSet {
        const marks = new RangeSetBuilder<Decoration>();
        for (const m of view.state.doc.toString().matchAll(CHIP)) {
          const [from, to] = [m.index, m.index + m[0].length];
          const place = placed(m[1]!);
          const widget = new ChipWidget(place, home().nameOf(place), home().isBroken(place), (chip) => {
            const now = view.posAtDOM(chip);
            home().onPress({ from: now, to: now + (to - from), place, rect: chip.getBoundingClientRect() });
          });
          marks.add(from, to, Decoration.replace({ widget }));
        }
        return marks.finish();
      }
    },
    {
      decorations: (p) => p.decorations,
      provide: (p) => EditorView.atomicRanges.of((view) => view.plugin(p)?.decorations ?? Decoration.none),
    },
  );
  return plugin;
}

/** A name typed between braces becomes a chip as soon as the brace is closed, if it is known here. */
function closeBraces(home: () => WordsHome): Extension {
  return EditorView.inputHandler.of((view, from, to, typed) => {
    if (typed !== '}') return false;
    const before = view.state.sliceDoc(0, from);
    const at = before.lastIndexOf('{');
    if (at < 0 || before.slice(at).includes(CLOSE)) return false;
    const stored = home().read(before.slice(at + 1));
    if (stored === null) return false;
    const insert = encodedPlace({ ...placed(before.slice(at + 1)), formula: stored });
    view.dispatch({
      changes: { from: at, to, insert },
      selection: { anchor: at + insert.length },
      userEvent: 'input.type',
    });
    return true;
  });
}

function offered(context: CompletionContext, home: WordsHome): CompletionResult | null {
  const open = context.matchBefore(/\{[^{}\uE001]*$/);
  if (!open) return null;
  const list = home.offers();
  const groups = [...new Set(list.map((o) => o.group))];
  return {
    from: open.from + 1,
    validFor: /^[^{}]*$/,
    options: list.map((o, i) => ({
      label: o.label,
      boost: -i / 1000,
      section: { name: o.group, rank: groups.indexOf(o.group) },
      apply: (view, _completion, from, to) => {
        const insert = encodedPlace({ formula: o.stored });
        view.dispatch({
          changes: { from: from - 1, to, insert },
          selection: { anchor: from - 1 + insert.length },
          userEvent: 'input.complete',
        });
      },
    })),
  };
}

/** An editor for words with chips in them. `home` is asked each time, so that it may change. */
export function wordsEditor(parent: HTMLElement, template: string, home: () => WordsHome): EditorView {
  return new EditorView({
    parent,
    state: EditorState.create({
      doc: encoded(template),
      extensions: [
        history(),
        keymap.of([{ key: 'Tab', run: acceptCompletion }, ...completionKeymap, ...historyKeymap, ...defaultKeymap]),
        chips(home),
        closeBraces(home),
        autocompletion({
          override: [(c) => offered(c, home())],
          icons: false,
          interactionDelay: 0,
          activateOnTyping: true,
        }),
        EditorView.lineWrapping,
        hint(home().placeholder),
        EditorView.contentAttributes.of({ 'aria-label': home().label, 'aria-multiline': 'true' }),
        // On the clipboard values are written with braces, which come back as chips.
        EditorView.clipboardOutputFilter.of((text) => decoded(text)),
        EditorView.clipboardInputFilter.of((text) => pastedWords(text, home())),
        EditorView.updateListener.of((u) => {
          if (u.docChanged && !u.transactions.some((t) => t.isUserEvent('kite.names.outside')))
            typedIn(() => home().onChange(decoded(u.state.doc.toString())));
        }),
      ],
    }),
  });
}

/** Pasted words: what stands between braces is a value where it works out here, and words otherwise. */
function pastedWords(text: string, home: WordsHome): string {
  if (!text.includes('{')) return text.replace(/[\uE000\uE001]/g, '');
  return pieces(text.replace(/[\uE000\uE001]/g, ''))
    .map((p) => {
      if ('words' in p) return p.words;
      const stored = home.read(p.formula);
      return stored === null ? `{${insideOf(p)}}` : encodedPlace({ ...p, formula: stored });
    })
    .join('');
}
