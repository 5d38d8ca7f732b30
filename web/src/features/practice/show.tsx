/** @jsxImportSource preact */
import { render } from "preact";

import { Practice } from "./Practice";

export function show(token: string, root: HTMLElement): void {
  render(<Practice token={token} />, root);
}
