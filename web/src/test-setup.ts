import { configure } from "@testing-library/react";

// The first screen of a file is loaded while it is waited for; a machine may be busy.
configure({ asyncUtilTimeout: 15_000 });

// jsdom lacks some things the interface asks for.
window.matchMedia ??= ((query: string) => ({ matches: false, media: query, addEventListener: () => {}, removeEventListener: () => {} })) as never;
window.ResizeObserver ??= class {
  observe() {}
  unobserve() {}
  disconnect() {}
} as never;
window.scrollTo = () => {};
Element.prototype.scrollIntoView ??= () => {};

// Node's requests know no page they stand on.
const NodeRequest = globalThis.Request;
globalThis.Request = class extends NodeRequest {
  constructor(input: RequestInfo | URL, init?: RequestInit) {
    super(typeof input === "string" ? new URL(input, "http://here") : input, init);
  }
};
