import type { Drawn } from '../../../core/screens/element.ts';
import { sizeOf } from '../../../player/ElementView.tsx';
import type { reading } from './definition.ts';

export default function ReadingView({ e }: { e: Drawn<typeof reading> }) {
  return (
    <div className="k-reading" data-e={e.id} style={sizeOf(e)}>
      <span className="k-label">{e.label}</span>
      <ReadingValue value={e.value} format={e.format} file={e.file} />
    </div>
  );
}

/** The address of a file that is saved and never opened as a page, whatever it calls itself. */
const toSave = (file: string): string => file.replace(/^data:[^;,]*/, 'data:application/octet-stream');

function ReadingValue({ value, format, file }: { value: string; format: string | null; file: string | null }) {
  if (!value) return <span className="k-value k-none">not filled in</span>;
  if (file?.startsWith('data:audio/')) return <audio className="k-sound" controls src={file} />;
  if (file && format === 'picture') return <img className="k-kept" src={file} alt="" />;
  if (file)
    return (
      <a className="k-value" href={toSave(file)} download={value}>
        {value}
      </a>
    );
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
