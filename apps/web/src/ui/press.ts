/** So far a pointer may move and still be a click, screen pixels. */
const STILL_PX = 4;

/**
 * Tells clicks from drags on a view that is moved by dragging.
 * @param centre where the view looks, as it was when the pointer went down. @param drag to that centre, moved by screen pixels.
 */
export function usePress(
  centre: () => [number, number],
  drag: (from: [number, number], dx: number, dy: number) => void,
  click: (event: PointerEvent) => void,
) {
  let pressed: { x: number; y: number; centre: [number, number]; moved: boolean } | undefined;
  return {
    down(event: PointerEvent): void {
      if (event.button !== 0) return;
      pressed = { x: event.clientX, y: event.clientY, centre: [...centre()], moved: false };
      (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
    },
    move(event: PointerEvent): void {
      if (!pressed) return;
      const [dx, dy] = [event.clientX - pressed.x, event.clientY - pressed.y];
      pressed.moved ||= Math.hypot(dx, dy) > STILL_PX;
      if (pressed.moved) drag(pressed.centre, dx, dy);
    },
    up(event: PointerEvent): void {
      if (pressed && !pressed.moved) click(event);
      pressed = undefined;
    },
  };
}
