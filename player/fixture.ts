import { cleanup } from '@testing-library/react';
import { afterEach, vi } from 'vitest';

/** For tests of components: what jsdom leaves out and components ask for. Importing it puts it in place. */
class NoObserver {
  observe(): void {}
  unobserve(): void {}
  disconnect(): void {}
}
vi.stubGlobal('ResizeObserver', NoObserver);
Element.prototype.scrollTo = () => undefined;
Element.prototype.scrollIntoView = () => undefined;
Element.prototype.hasPointerCapture = () => false;
afterEach(cleanup);
