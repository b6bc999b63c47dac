import { TestEnvironment } from 'jest-environment-jsdom';

/** A page as a browser gives it, with what jsdom leaves out. */
export default class PageEnvironment extends TestEnvironment {
  async setup() {
    await super.setup();
    const page = this.global;
    Object.assign(page, { TextEncoder, TextDecoder, Response, structuredClone });
    page.ResizeObserver = class {
      observe() {}
      unobserve() {}
      disconnect() {}
    };
    page.matchMedia = () => ({ matches: false, addEventListener() {}, removeEventListener() {} });
    page.Element.prototype.scrollIntoView = () => undefined;
    page.Element.prototype.hasPointerCapture = () => false;
  }
}
