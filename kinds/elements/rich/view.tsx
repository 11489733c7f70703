import type { ReactNode } from 'react';
import type { RichPiece } from '../../../core/document/rich-words.ts';
import type { Drawn } from '../../../core/screens/element.ts';
import { usePlayer } from '../../../player/context.ts';
import { sizeOf } from '../../../player/ElementView.tsx';
import { useKept } from '../../../player/kept.ts';
import type { rich } from './definition.ts';
import { usePieces } from './view-pieces.ts';
import './rich.css';

type Node = RichPiece;

/** Words as CommonMark has them, drawn piece by piece: what is no piece of words, such as HTML, stands as it was typed. */
export default function RichView({ e }: { e: Drawn<typeof rich> }) {
  const pieces = usePieces(e.words);
  return (
    <div className="k-rich" data-e={e.id} data-select={e.select || undefined} style={sizeOf(e)}>
      {pieces.length === 0 ? <p className="k-none">Nothing is written here yet</p> : all(pieces)}
    </div>
  );
}

const all = (nodes: readonly Node[]): ReactNode => nodes.map((n, i) => <Piece key={i} n={n} />);

function Piece({ n }: { n: Node }): ReactNode {
  switch (n.type) {
    case 'heading': {
      const Head = (['h2', 'h3', 'h4'] as const)[Math.min(n.depth, 3) - 1]!;
      return <Head>{all(n.children)}</Head>;
    }
    case 'paragraph':
      return <p>{all(n.children)}</p>;
    case 'strong':
      return <strong>{all(n.children)}</strong>;
    case 'emphasis':
      return <em>{all(n.children)}</em>;
    case 'list':
      return n.ordered ? <ol start={n.start ?? 1}>{all(n.children)}</ol> : <ul>{all(n.children)}</ul>;
    case 'listItem':
      return <li>{all(n.children)}</li>;
    case 'blockquote':
      return <blockquote>{all(n.children)}</blockquote>;
    case 'thematicBreak':
      return <hr />;
    case 'break':
      return <br />;
    case 'inlineCode':
      return <code>{n.value}</code>;
    case 'code':
      return (
        <pre>
          <code>{n.value}</code>
        </pre>
      );
    case 'link':
      // Only addresses that lead somewhere; nothing that would run.
      return /^(https?:|mailto:|tel:|sms:)/i.test(n.url) ? (
        <a href={n.url} target="_blank" rel="noopener noreferrer">
          {all(n.children)}
        </a>
      ) : (
        all(n.children)
      );
    case 'image':
      return <Picture source={n.url} alt={n.alt ?? ''} />;
    case 'text':
    case 'html':
      return n.value;
    default:
      return null;
  }
}

function Picture({ source, alt }: { source: string; alt: string }) {
  const { url } = useKept(usePlayer().api, source);
  return url && /^(https?:|data:image\/|blob:)/i.test(url) ? <img src={url} alt={alt} loading="lazy" /> : alt;
}
