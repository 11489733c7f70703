import type { App } from '../app/schema.ts';
import type { DeviceAsk } from '../routines/asks.ts';

/** Pictures of the app that a described one is held against: so many, each of so many letters at most. */
const [MOST_SAMPLES, MOST_SAMPLE] = [20, 400_000];

/** The content of a file of the app's own as an address; any other address as it is. */
export function ownContent({ files }: Pick<App, 'files'>, source: string): string {
  const file = source.startsWith('file:') && files.find((f) => f.id === source.slice(5));
  return file ? `data:${file.type};name=${encodeURIComponent(file.name)};base64,${file.data}` : source;
}

/** What a device is asked, with files of the app's own as their content: the device knows only that. */
export function withContent(app: Pick<App, 'files' | 'signIn'>, what: DeviceAsk): DeviceAsk {
  const content = (source: string): string => ownContent(app, source);
  switch (what.do) {
    case 'sound':
      return { ...what, source: content(what.source) };
    case 'describe': {
      const known = app.files.filter((f) => f.type.startsWith('image/') && f.data.length < MOST_SAMPLE);
      const samples = known.slice(0, MOST_SAMPLES).map((f) => ({ name: f.name, address: content(`file:${f.id}`) }));
      return { ...what, picture: content(what.picture), samples };
    }
    case 'sign in':
      return { ...what, page: app.signIn?.page };
    case 'caption':
      return { ...what, picture: content(what.picture) };
    case 'make': {
      if (what.file.is !== 'pdf') return what;
      const { page } = what.file;
      return { ...what, file: { ...what.file, page: { ...page, picture: content(page.picture) } } };
    }
    case 'share':
    case 'save':
      return what.file ? { ...what, file: content(what.file) } : what;
    default:
      return what;
  }
}
