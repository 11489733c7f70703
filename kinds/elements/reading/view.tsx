import { fileType } from '../../../core/fields/kept-address.ts';
import type { Drawn } from '../../../core/screens/element.ts';
import { usePlayer } from '../../../player/context.ts';
import { sizeOf } from '../../../player/ElementView.tsx';
import { useKept } from '../../../player/kept.ts';
import type { reading } from './definition.ts';

export default function ReadingView({ e }: { e: Drawn<typeof reading> }) {
  return (
    <div className="k-reading" data-e={e.id} style={sizeOf(e)}>
      <span className="k-label">{e.label}</span>
      <ReadingValue value={e.value} hidden={e.hidden} format={e.format} file={e.file} />
    </div>
  );
}

/** A kept file as it is: heard, seen or saved. It is never opened as a page, whatever it calls itself. */
function KeptValue({ name, format, file }: { name: string; format: string | null; file: string }) {
  const { url, lost } = useKept(usePlayer().api, file);
  if (lost) return <span className="k-value k-none">{name} cannot be fetched now</span>;
  if (!url) return <span className="k-value k-none">{name}</span>;
  const type = fileType(file) ?? '';
  if (type.startsWith('audio/')) return <audio className="k-sound" controls src={url} />;
  if (type.startsWith('image/') && format === 'picture') return <img className="k-kept" src={url} alt="" />;
  return (
    <a className="k-value" href={url.replace(/^data:[^;,]*/, 'data:application/octet-stream')} download={name}>
      {name}
    </a>
  );
}

function ReadingValue({
  value,
  hidden,
  format,
  file,
}: {
  value: string;
  hidden: boolean;
  format: string | null;
  file: string | null;
}) {
  if (!value) return <span className="k-value k-none">{hidden ? 'not shown to you' : 'not filled in'}</span>;
  if (file) return <KeptValue name={value} format={format} file={file} />;
  if (format === 'place') {
    const [lat, lon] = value.split(', ').map((part) => (/[SW]$/.test(part) ? -1 : 1) * Number.parseFloat(part));
    return (
      <a className="k-value" href={`geo:${lat},${lon}`}>
        {value}
      </a>
    );
  }
  if (format === 'mail')
    return (
      <a className="k-value" href={`mailto:${encodeURIComponent(value)}`}>
        {value}
      </a>
    );
  if (format === 'phone')
    return (
      <a className="k-value" href={`tel:${value.replace(/[^\d+]/g, '')}`}>
        {value}
      </a>
    );
  if (format === 'web' && /^https?:\/\//i.test(value))
    return (
      <a className="k-value" href={value} target="_blank" rel="noreferrer noopener">
        {value}
      </a>
    );
  return <span className="k-value">{value}</span>;
}
