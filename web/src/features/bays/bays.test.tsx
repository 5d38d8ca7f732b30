import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, fireEvent, render, screen, waitFor, within } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

import { Bays } from "./Bays";
import { concerns, saysBay, type Bay, type Device } from "./words";

const { GET, POST, DELETE } = vi.hoisted(() => ({ GET: vi.fn(), POST: vi.fn(), DELETE: vi.fn() }));
vi.mock("@/api/client", () => ({ api: { GET, POST, DELETE }, data: async (call: Promise<{ data?: unknown }>) => (await call).data }));
vi.mock("@/shared/ui/TopLine", () => ({ TopLine: ({ title }: { title: string }) => <h1>{title}</h1> }));

const device = (extra: Partial<Device> = {}): Device => ({
  id: "d1",
  name: "Hand",
  model: "stand-in",
  connected: true,
  seen_s: 0.1,
  battery: 0.8,
  charging: false,
  signal_dbm: -60,
  errors: [],
  clock_ms: 0.4,
  streams: [{ measures: "lead hand", kind: "imu", declared_hz: 200, rate_hz: 199, lost: 0 }],
  ...extra,
});
const token = { id: "t1", name: "wrist pair", made_at: "2026-11-29T10:00:00Z", used_at: null };
const bay = (extra: Partial<Bay> = {}): Bay => ({ name: "Bay 1", state: "idle", trouble: "", tokens: [token], devices: [device()], ...extra });

const shown = (bays: Bay[]) => {
  GET.mockResolvedValue({ data: { bays } });
  return render(
    <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
      <Bays />
    </QueryClientProvider>,
  );
};
beforeEach(() => [GET, POST, DELETE].forEach((f) => f.mockReset()));
afterEach(cleanup);

describe("what is said of a device", () => {
  it("is nothing where all is well", () => expect(concerns(device())).toEqual([]));
  it("is that it is gone, before anything else", () =>
    expect(concerns(device({ connected: false, seen_s: 130, battery: 0.05 }))).toEqual(["gone, last heard 2 min ago"]));
  it.each([
    [{ battery: 0.08 }, "battery at 8 %: charge it"],
    [{ signal_dbm: -82 }, "weak signal: bring it nearer"],
    [{ errors: ["hot"] }, "hot"],
    [{ streams: [{ ...device().streams[0]!, rate_hz: 120 }] }, "sends 120 of 200 samples a second"],
  ])("names what asks for attention: %o", (extra, words) => expect(concerns(device(extra))).toEqual([words]));
});

describe("what is said of a bay", () => {
  it.each([
    [bay(), "One device sends."],
    [bay({ devices: [device(), device({ id: "d2" }), device({ id: "d3", connected: false })] }), "2 devices send, 1 is gone."],
    [bay({ devices: [device({ connected: false })] }), "Nothing sends now."],
    [bay({ devices: [] }), "Nothing has sent yet."],
    [bay({ devices: [], tokens: [] }), "No token yet: make one, and put it into the device."],
    [bay({ trouble: "The disk does not take what is sent." }), "The disk does not take what is sent."],
  ])("is one sentence", (read, words) => expect(saysBay(read)).toBe(words));
});

describe("the screen of the bays", () => {
  it("draws each device with its battery, and what is wrong instead of its rate", async () => {
    shown([bay({ devices: [device(), device({ id: "d2", name: "Club clip", battery: 0.05 })] })]);
    const list = within(await screen.findByRole("list", { name: "Devices in Bay 1" }));
    expect(list.getByRole("img", { name: "Battery 80 percent" })).toBeTruthy();
    expect(list.getByText("199 Hz · clock ± 0.4 ms")).toBeTruthy();
    expect(list.getByText("battery at 5 %: charge it")).toBeTruthy();
  });

  it("makes a token and shows it once", async () => {
    shown([bay()]);
    POST.mockResolvedValue({ data: { ...token, bay: "Bay 1", token: "bay_secret" } });
    fireEvent.click(await screen.findByRole("button", { name: "New token" }));
    const make = screen.getByRole("button", { name: "Make the token" });
    expect(make).toHaveProperty("disabled", true);
    fireEvent.change(screen.getByLabelText("What will send with it"), { target: { value: "mat" } });
    fireEvent.click(make);
    expect(await screen.findByText("bay_secret")).toBeTruthy();
    expect(POST).toHaveBeenCalledWith("/api/bays/tokens", { body: { bay: "Bay 1", name: "mat" } });
    fireEvent.click(screen.getByRole("button", { name: "Close" }));
    await waitFor(() => expect(screen.queryByText("bay_secret")).toBeNull());
  });

  it("asks before it revokes a token", async () => {
    shown([bay()]);
    DELETE.mockResolvedValue({ data: { ok: true } });
    fireEvent.click(await screen.findByRole("button", { name: /wrist pair/ }));
    expect(DELETE).not.toHaveBeenCalled();
    fireEvent.click(screen.getByRole("button", { name: "Revoke it" }));
    await waitFor(() => expect(DELETE).toHaveBeenCalledWith("/api/bays/tokens/{token_id}", { params: { path: { token_id: "t1" } } }));
  });
});
