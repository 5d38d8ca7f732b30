import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, expect, it, vi } from "vitest";

import { useKeys, type KeyMap } from "./keys";

function View({ keys }: { keys: KeyMap }) {
  useKeys(keys);
  return (
    <>
      <input aria-label="name" />
      <button>go</button>
      <div role="dialog">
        <span>inside</span>
      </div>
    </>
  );
}
afterEach(cleanup);

it("does what the key says, once", () => {
  const act = vi.fn();
  render(<View keys={{ k: act }} />);
  fireEvent.keyDown(window, { key: "k" });
  fireEvent.keyDown(window, { key: "j" });
  expect(act).toHaveBeenCalledOnce();
});

it.each([["ctrlKey"], ["metaKey"], ["altKey"]])("leaves keys with %s to the browser", (modifier) => {
  const act = vi.fn();
  render(<View keys={{ k: act }} />);
  fireEvent.keyDown(window, { key: "k", [modifier]: true });
  expect(act).not.toHaveBeenCalled();
});

it("leaves what is typed, what a dialog takes, and Enter on a button alone", () => {
  const act = vi.fn();
  render(<View keys={{ k: act, Enter: act }} />);
  fireEvent.keyDown(screen.getByLabelText("name"), { key: "k" });
  fireEvent.keyDown(screen.getByText("inside"), { key: "k" });
  fireEvent.keyDown(screen.getByText("go"), { key: "Enter" });
  expect(act).not.toHaveBeenCalled();
  fireEvent.keyDown(screen.getByText("go"), { key: "k" });
  expect(act).toHaveBeenCalledOnce();
});

it("tells a key with shift from one without, where both are named", () => {
  const plain = vi.fn();
  const shifted = vi.fn();
  render(<View keys={{ ArrowLeft: plain, "Shift+ArrowLeft": shifted, "?": plain }} />);
  fireEvent.keyDown(window, { key: "ArrowLeft", shiftKey: true });
  expect(shifted).toHaveBeenCalledOnce();
  fireEvent.keyDown(window, { key: "?", shiftKey: true });
  expect(plain).toHaveBeenCalledOnce();
});

it("does what the newest map says", () => {
  const first = vi.fn();
  const then = vi.fn();
  const { rerender } = render(<View keys={{ k: first }} />);
  rerender(<View keys={{ k: then }} />);
  fireEvent.keyDown(window, { key: "k" });
  expect(first).not.toHaveBeenCalled();
  expect(then).toHaveBeenCalledOnce();
});
