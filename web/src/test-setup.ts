// jsdom lacks two things the interface asks for.
window.matchMedia ??= ((query: string) => ({ matches: false, media: query, addEventListener: () => {}, removeEventListener: () => {} })) as never;
window.ResizeObserver ??= class {
  observe() {}
  unobserve() {}
  disconnect() {}
} as never;
