import { KeyboardSensor, PointerSensor, useSensor, useSensors, type KeyboardCoordinateGetter } from "@dnd-kit/core";

const ARROWS: Record<string, [number, number]> = { ArrowUp: [0, -1], ArrowDown: [0, 1], ArrowLeft: [-1, 0], ArrowRight: [1, 0] };

/** An arrow takes what is held to the nearest place in its direction, so that keys reach every place a pointer does. */
export const toNextPlace: KeyboardCoordinateGetter = (event, { currentCoordinates, context }) => {
  const arrow = ARROWS[event.code];
  const held = context.collisionRect;
  if (!arrow || !held) return undefined;
  event.preventDefault();
  const [dx, dy] = arrow;
  const middle = { x: held.left + held.width / 2, y: held.top + held.height / 2 };
  let best: { x: number; y: number } | undefined;
  let least = Infinity;
  for (const rect of context.droppableRects.values()) {
    const to = { x: rect.left + rect.width / 2 - middle.x, y: rect.top + rect.height / 2 - middle.y };
    const along = to.x * dx + to.y * dy;
    const beside = Math.abs(to.x * dy) + Math.abs(to.y * dx);
    if (along < 4) continue; // behind, or where it is
    const cost = along + 4 * beside;
    if (cost < least) [least, best] = [cost, to];
  }
  return best && { x: currentCoordinates.x + best.x, y: currentCoordinates.y + best.y };
};

/** Pointer, finger and keys: a short move is a tap, not a drag. */
export function usePlaces() {
  return useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 8 } }), useSensor(KeyboardSensor, { coordinateGetter: toNextPlace }));
}
