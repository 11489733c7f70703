import type { DeviceAsk } from '../core/routines/asks.ts';
import type { KeptValue } from '../core/records/kept-value.ts';
import type { PhoneApi } from '../core/phone/api.ts';

/** What a device is asked that needs nothing to be shown: done by standards of the web. */
export type Quiet = Exclude<DeviceAsk, { do: 'picture' } | { do: 'scan' } | { do: 'record' }>;

/** A file of routines is made in so many milliseconds, or not at all. */
const MAKE_MS = 60_000;

let playing: HTMLAudioElement | null = null;
let lock: WakeLockSentinel | null = null;
/** The notice that was shown last, while the page is open. */
let shown: Notification | null = null;

/** Does what a device is asked. Rejects in words where the device has not what it takes, or the person said no. */
export async function perform(what: Quiet, api: PhoneApi): Promise<KeptValue | void> {
  switch (what.do) {
    case 'speak':
      return speak(what);
    case 'buzz':
      if (!('vibrate' in navigator) || !navigator.vibrate(what.ms)) throw new Error('This device cannot buzz.');
      return;
    case 'share':
      return share(what, api);
    case 'copy':
      if (!('clipboard' in navigator)) throw new Error('This device does not let the app copy.');
      return navigator.clipboard.writeText(what.words);
    case 'address':
      // Links of the phone itself are followed here; a page opens beside the app.
      if (/^https?:/.test(what.address)) {
        if (!open(what.address, '_blank', 'noopener')) throw new Error('The browser did not let the app open a page.');
      } else location.href = what.address;
      return;
    case 'sign in':
      return (await import('./sign-in-page.ts')).leaveToSignIn(what.page);
    case 'sound':
      return play(what, api);
    case 'silence':
      playing?.pause();
      playing = null;
      return;
    case 'place':
      return place();
    case 'save':
      return save(what.file ? await blobOf(what.file, api) : new Blob([what.content], { type: what.type }), what.name);
    case 'describe': {
      const { describePicture } = await import('./describe-picture.ts');
      return describePicture(what, (address) => blobOf(address, api));
    }
    case 'caption': {
      const { captioned } = await import('./caption.ts');
      return api.keepFile(await captioned(what, await blobOf(what.picture, api)), 'picture.png');
    }
    case 'make': {
      const { apart } = await import('./apart.ts');
      const { file } = what;
      const address = file.is === 'pdf' ? file.page.picture : '';
      const content = address ? await blobOf(address, api) : null;
      const picture = content && { bytes: new Uint8Array(await content.arrayBuffer()), type: content.type };
      const { bytes, type } = await apart((there) => there.make(file, picture), MAKE_MS);
      return api.keepFile(new Blob([bytes], { type }), file.name);
    }
    case 'notice':
      return notify(what);
    case 'awake':
      await lock?.release();
      lock = null;
      if (!what.on) return;
      if (!('wakeLock' in navigator)) throw new Error('This device cannot be kept awake.');
      lock = await navigator.wakeLock.request('screen');
  }
}

/** A synthesiser without voices never ends: it is not waited for longer than this, in milliseconds a letter. */
const SLOWEST = 400;

function speak({ words, language }: Extract<Quiet, { do: 'speak' }>): Promise<void> {
  if (!('speechSynthesis' in globalThis)) throw new Error('This device has no voice.');
  return new Promise((resolve, reject) => {
    const spoken = new SpeechSynthesisUtterance(words);
    spoken.lang = language;
    const late = setTimeout(() => reject(new Error('This device has no voice.')), 2000 + words.length * SLOWEST);
    spoken.addEventListener('end', () => {
      clearTimeout(late);
      resolve();
    });
    spoken.addEventListener('error', (e) => {
      clearTimeout(late);
      reject(
        new Error(e.error === 'not-allowed' ? 'The device does not speak before it is touched.' : 'The voice failed.'),
      );
    });
    speechSynthesis.speak(spoken);
  });
}

async function share(what: Extract<Quiet, { do: 'share' }>, api: PhoneApi): Promise<void> {
  if (!('share' in navigator)) throw new Error('This device cannot share.');
  const files: File[] = [];
  if (what.file) {
    const blob = await blobOf(what.file, api);
    files.push(new File([blob], 'shared', { type: blob.type }));
  }
  const data: ShareData = {
    ...(what.title && { title: what.title }),
    ...(what.words && { text: what.words }),
    ...(what.address && { url: what.address }),
    ...(files.length > 0 && { files }),
  };
  if (!navigator.canShare(data)) throw new Error('This device cannot share that.');
  await navigator.share(data).catch((e: Error) => {
    throw new Error(e.name === 'AbortError' ? 'It was not shared after all.' : 'It could not be shared.');
  });
}

async function play(what: Extract<Quiet, { do: 'sound' }>, api: PhoneApi): Promise<void> {
  const isAddress = /^https?:/.test(what.source);
  const address = isAddress ? what.source : URL.createObjectURL(await blobOf(what.source, api));
  playing?.pause();
  const sound = new Audio(address);
  sound.volume = Math.max(0, Math.min(1, what.volume));
  sound.loop = what.loop;
  playing = sound;
  await sound.play().catch((e: Error) => {
    throw new Error(
      e.name === 'NotAllowedError' ? 'The device plays nothing before it is touched.' : 'This sound cannot be played.',
    );
  });
}

/** The content of a file that a record, the app or an address holds. Rejects in words where it cannot be had. */
export async function blobOf(source: string, api: PhoneApi): Promise<Blob> {
  if (source.startsWith('data:')) {
    const [head = '', body = ''] = source.split(/,(.*)/s);
    const type = /^data:([^;,]*)/.exec(head)?.[1] ?? '';
    const text = head.includes(';base64') ? atob(body) : decodeURIComponent(body);
    return new Blob([Uint8Array.from(text, (c) => c.charCodeAt(0))], { type });
  }
  if (/^https?:/.test(source)) {
    const answer = await fetch(source).catch(() => null);
    if (!answer?.ok) throw new Error('The file could not be fetched.');
    return answer.blob();
  }
  const file = await api.file(source);
  if (!file) throw new Error('The file is not here now.');
  return file;
}

function place(): Promise<KeptValue> {
  if (!('geolocation' in navigator)) throw new Error('This device does not know where it is.');
  return new Promise((resolve, reject) => {
    navigator.geolocation.getCurrentPosition(
      ({ coords: { latitude, longitude } }) => resolve({ context: { latitude, longitude } }),
      (e) =>
        reject(
          new Error(
            e.code === e.PERMISSION_DENIED
              ? 'The place may not be read. Allow it in the settings.'
              : 'The place was not found.',
          ),
        ),
      { enableHighAccuracy: true, timeout: 20_000, maximumAge: 30_000 },
    );
  });
}

/** Lets the browser keep a file where downloads go. */
function save(content: Blob, name: string): void {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(content);
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
}

async function notify({ title, words }: Extract<Quiet, { do: 'notice' }>): Promise<void> {
  if (!('Notification' in globalThis)) throw new Error('This device shows no notices.');
  if (Notification.permission !== 'granted' && (await Notification.requestPermission()) !== 'granted')
    throw new Error('Notices are not allowed on this device.');
  shown?.close();
  const worker = await navigator.serviceWorker?.getRegistration();
  if (worker) await worker.showNotification(title, { body: words });
  else shown = new Notification(title, { body: words });
}
