import { useState, type CSSProperties, type KeyboardEvent, type ReactNode } from 'react';
import type { Drawn, DrawnBox, DrawnPicture } from '../core/screens/drawn.ts';
import { usePlayer } from './context.ts';
import { FormView, InputView, useForm } from './Form.tsx';
import { iconOf } from './icons.ts';
import { ListView } from './List.tsx';

/** Size of an element as CSS: fit, fill, or a fixed number of pixels. */
function sizeOf(e: { width?: Drawn['width']; height?: Drawn['height'] }): CSSProperties {
  const css: CSSProperties = {};
  if (e.width === 'fill') Object.assign(css, { flex: '1 1 0', minWidth: 0 });
  else if (e.width === 'fit') css.alignSelf = 'flex-start';
  else if (typeof e.width === 'number') Object.assign(css, { width: e.width, flex: 'none' });
  if (typeof e.height === 'number') css.height = e.height;
  return css;
}

/** Draws one element. `data-e` lets the studio find it; there is no editing code here. */
export function ElementView({ e }: { e: Drawn }): ReactNode {
  switch (e.kind) {
    case 'text':
      return (
        <p
          className="k-text"
          data-e={e.id}
          data-style={e.style}
          data-colour={e.colour}
          style={{ ...sizeOf(e), textAlign: e.align === 'middle' ? 'center' : e.align }}
        >
          {e.words}
        </p>
      );
    case 'picture':
      return <PictureView e={e} />;
    case 'button':
      return <ButtonView e={e} />;
    case 'reading':
      return (
        <div className="k-reading" data-e={e.id} style={sizeOf(e)}>
          <span className="k-label">{e.label}</span>
          <ReadingValue value={e.value} format={e.format} file={e.file} />
        </div>
      );
    case 'box':
      return <BoxView e={e} />;
    case 'list':
      return <ListView e={e} style={sizeOf(e)} />;
    case 'form':
      return <FormView e={e} style={sizeOf(e)} />;
    case 'input':
      return <InputView e={e} />;
  }
}

function ReadingValue({ value, format, file }: { value: string; format: string | null; file: string | null }) {
  if (!value) return <span className="k-value k-none">not filled in</span>;
  if (file?.startsWith('data:audio/')) return <audio className="k-sound" controls src={file} />;
  if (file && format === 'picture') return <img className="k-kept" src={file} alt="" />;
  if (file)
    return (
      <a className="k-value" href={file} download={value}>
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

/** Only addresses that a picture can have; anything else is no picture. */
const safePicture = (address: string): boolean => /^(https?:|data:image\/|blob:|\/)/i.test(address);

function PictureView({ e }: { e: DrawnPicture }) {
  const [failed, setFailed] = useState('');
  const shown = e.address && safePicture(e.address) && failed !== e.address;
  const Icon = iconOf('image')!;
  return (
    <div className="k-picture" data-e={e.id} data-shape={e.shape} style={sizeOf(e)}>
      {shown ? (
        <img src={e.address} alt={e.alt} loading="lazy" decoding="async" onError={() => setFailed(e.address)} />
      ) : (
        <span
          className="k-no-picture"
          role="img"
          aria-label={e.address ? 'The picture cannot be loaded' : 'No picture'}
        >
          <Icon size={20} aria-hidden />
        </span>
      )}
    </div>
  );
}

function ButtonView({ e }: { e: Extract<Drawn, { kind: 'button' }> }) {
  const { tap } = usePlayer();
  const form = useForm();
  const Icon = iconOf(e.icon);
  const press = (): void => (e.tap.do === 'save' && form ? form.save() : tap(e.tap, e.scope, e.id));
  return (
    <button
      className="k-button"
      data-e={e.id}
      data-look={e.look}
      style={sizeOf(e)}
      onClick={press}
      disabled={form?.saving && e.tap.do === 'save'}
    >
      {Icon && <Icon size={18} aria-hidden />}
      {e.words && <span>{e.words}</span>}
    </button>
  );
}

function BoxView({ e }: { e: DrawnBox }) {
  const { tap } = usePlayer();
  const style: CSSProperties = { ...sizeOf(e), gap: `calc(${e.gap}px * var(--k-density))`, padding: e.inside };
  const acts = e.tap && e.tap.do !== 'nothing' ? e.tap : null;
  const press = acts ? () => tap(acts, e.scope, e.id) : undefined;
  return (
    <div
      className="k-box"
      data-e={e.id}
      data-runs={e.runs}
      data-surface={e.surface}
      data-across={e.across}
      style={style}
      {...tappable(press)}
    >
      {e.children.map((c) => (
        <ElementView key={c.id} e={c} />
      ))}
    </div>
  );
}

/** What makes a plain box a control for fingers, keyboard and assistive technology. */
export function tappable(press: (() => void) | undefined) {
  if (!press) return {};
  return {
    role: 'button',
    tabIndex: 0,
    onClick: press,
    onKeyDown: (k: KeyboardEvent) => {
      if (k.key !== 'Enter' && k.key !== ' ') return;
      if (k.target !== k.currentTarget) return;
      k.preventDefault();
      press();
    },
  };
}
