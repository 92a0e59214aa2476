import { TestEnvironment } from 'jest-environment-jsdom';

/** Node has these, and jsdom's page lacks them or has ones that don't fit each other. */
const { Headers, Request, Response, AbortController, AbortSignal, structuredClone } = globalThis;
const { TextEncoder, TextDecoder, ReadableStream } = globalThis;
const OF_NODE = { Headers, Response, AbortController, AbortSignal, structuredClone, TextEncoder, TextDecoder };

/** A page without a picture: jsdom draws nothing, so what draws, measures or listens finds nothing to do. */
export default class PageEnvironment extends TestEnvironment {
  async setup() {
    await super.setup();
    const page = this.global;
    Object.assign(page, OF_NODE);
    page.fetch = () => Promise.reject(new Error('This page has no server.'));
    // An address like /api/session means something on a page only.
    page.Request = class extends Request {
      constructor(input, init) {
        super(typeof input === 'string' ? new URL(input, 'http://jarro.test') : input, init);
      }
    };
    // What browsers have and jsdom lacks.
    page.Blob.prototype.arrayBuffer = function () {
      return new Promise((resolve) => {
        const reader = new page.FileReader();
        reader.onload = () => resolve(reader.result);
        reader.readAsArrayBuffer(this);
      });
    };
    page.Blob.prototype.text = async function () {
      return new TextDecoder().decode(await this.arrayBuffer());
    };
    page.Blob.prototype.stream = function () {
      return new ReadableStream({
        start: async (controller) => {
          controller.enqueue(new Uint8Array(await this.arrayBuffer()));
          controller.close();
        },
      });
    };
    page.ResizeObserver = class {
      observe() {}
      unobserve() {}
      disconnect() {}
    };
    page.EventSource = class {
      close() {}
    };
    // Weights take seconds, and what a screen does without them is what is asked here.
    page.Worker = class {
      addEventListener() {}
      removeEventListener() {}
      postMessage() {}
      terminate() {}
    };
    page.matchMedia = () => ({ matches: false, addEventListener() {}, removeEventListener() {} });
    page.HTMLCanvasElement.prototype.getContext = () => null;
    page.Element.prototype.scrollIntoView = () => {};
    page.Element.prototype.hasPointerCapture = () => false;
  }
}
