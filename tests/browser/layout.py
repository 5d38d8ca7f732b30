"""What is wrong with how a page is laid out, measured in the page itself: text over text, text cut off, anything that
scrolls sideways, targets too small for a thumb, and, where asked, anything that scrolls at all."""

from __future__ import annotations

from playwright.sync_api import Page

SIZES = {
    "laptop": (1280, 800),
    "large laptop": (1440, 900),
    "tablet": (1024, 768),
    "tablet upright": (820, 1180),
    "phone": (390, 844),
    "television": (1920, 1080),
}
TARGET = 56
MEASURE = """([target, still]) => {
  const wrong = new Set();
  const W = innerWidth, H = innerHeight;
  const dialog = [...document.querySelectorAll("[role=dialog], [role=alertdialog]")].at(-1);
  const root = dialog ?? document.body;
  const said = (e) => {
    const text = (e.getAttribute("aria-label") || e.textContent || "").trim().replace(/\\s+/g, " ").slice(0, 40);
    return `${e.tagName.toLowerCase()} "${text}"`;
  };
  const hidden = (e) => {
    const s = getComputedStyle(e);
    return s.visibility === "hidden" || s.display === "none" || Number(s.opacity) === 0 || e.closest(".sr-only");
  };
  if (document.scrollingElement.scrollWidth > W + 1) wrong.add(`the page is ${document.scrollingElement.scrollWidth} wide, the screen ${W}`);
  for (const e of root.querySelectorAll("*")) {
    if (e instanceof SVGElement) continue;
    const s = getComputedStyle(e);
    const free = e.closest("[data-scrolls]");
    if (!free && /auto|scroll/.test(s.overflowX) && e.scrollWidth > e.clientWidth + 1) wrong.add(`scrolls sideways: ${said(e)}`);
    if (still && !free && /auto|scroll|hidden/.test(s.overflowY) && e.scrollHeight > e.clientHeight + 2 && !e.closest(".sr-only"))
      wrong.add(`does not fit, ${e.scrollHeight - e.clientHeight} too high: ${said(e)}`);
  }
  if (still && document.scrollingElement.scrollHeight > H + 1) wrong.add(`the page is ${document.scrollingElement.scrollHeight} high, the screen ${H}`);
  // the rectangles of every piece of text that can be seen, each with what it is cut by
  const pieces = [];
  const walker = document.createTreeWalker(root, NodeFilter.SHOW_TEXT);
  for (let node = walker.nextNode(); node; node = walker.nextNode()) {
    const parent = node.parentElement;
    if (!node.textContent.trim() || !parent || parent.closest("script, style, option, title, desc") || hidden(parent)) continue;
    if (parent.checkVisibility && !parent.checkVisibility({ opacityProperty: true, visibilityProperty: true })) continue;
    const range = document.createRange();
    range.selectNodeContents(node);
    for (const r of range.getClientRects()) {
      if (r.width < 1 || r.height < 1) continue;
      const box = { left: r.left, top: r.top, right: r.right, bottom: r.bottom };
      let scrolled = false, out = false;
      for (let up = parent; up && up !== document.documentElement; up = up.parentElement) {
        const s = getComputedStyle(up);
        if (s.overflowX === "visible" && s.overflowY === "visible") continue;
        if (up instanceof SVGElement && up.tagName !== "svg") continue;
        const c = up.getBoundingClientRect();
        const scrolls = /auto|scroll/.test(s.overflowY) || up.closest("[data-scrolls]");
        if (box.bottom <= c.top + 1 || box.top >= c.bottom - 1 || box.right <= c.left + 1 || box.left >= c.right - 1) { out = true; if (!scrolls) wrong.add(`cut off: ${said(parent)}`); break; }
        const sideways = up.hasAttribute("data-scrolls"); // its items come in and go out at both ends
        const over = Math.max(sideways ? 0 : c.left - box.left, sideways ? 0 : box.right - c.right, scrolls ? 0 : c.top - box.top - 3, scrolls ? 0 : box.bottom - c.bottom - 3);
        if (over > 2) wrong.add(`cut off by ${Math.round(over)}: ${said(parent)}`);
        if (scrolls) scrolled = true;
        box.top = Math.max(box.top, c.top); box.bottom = Math.min(box.bottom, c.bottom);
      }
      if (out) continue;
      if (!scrolled && (box.right > W + 1 || box.left < -1 || box.bottom > H + 1)) {
        if (still || box.right > W + 1 || box.left < -1) wrong.add(`outside the screen: ${said(parent)}`);
      }
      const slack = 0.18 * (box.bottom - box.top); // lines are set higher than their letters
      pieces.push({ node, parent, left: box.left + 1, right: box.right - 1, top: box.top + slack, bottom: box.bottom - slack });
    }
    const s = getComputedStyle(parent);
    if (s.textOverflow === "ellipsis" && parent.scrollWidth > parent.clientWidth + 1) wrong.add(`shortened: ${said(parent)}`);
  }
  pieces.sort((a, b) => a.top - b.top);
  for (let i = 0; i < pieces.length; i++)
    for (let k = i + 1; k < pieces.length && pieces[k].top < pieces[i].bottom; k++) {
      const a = pieces[i], b = pieces[k];
      const w = Math.min(a.right, b.right) - Math.max(a.left, b.left), h = Math.min(a.bottom, b.bottom) - Math.max(a.top, b.top);
      if (w > 1.5 && h > 1.5 && a.node !== b.node) {
        const x = Math.max(a.left, b.left) + w / 2, y = Math.max(a.top, b.top) + h / 2;
        const front = document.elementFromPoint(x, y);
        // what lies wholly behind something else, such as a page under a sheet, is not seen
        if (front && !front.contains(a.parent) && !front.contains(b.parent) && !a.parent.contains(front) && !b.parent.contains(front) && !(front instanceof SVGElement)) continue;
        wrong.add(`text over text: ${said(a.parent)} and ${said(b.parent)}`);
      }
    }
  // what a thumb must hit
  for (const e of root.querySelectorAll("button, a[href], input, select, textarea, summary, [role=radio], [role=button]")) {
    if (e.disabled || hidden(e) || e.closest("[inert]") || e.type === "file") continue;
    if (e.checkVisibility && !e.checkVisibility({ visibilityProperty: true })) continue;
    if (getComputedStyle(e).display === "inline" && e.closest("p")) continue; // a word in a sentence
    const label = e.closest("label");
    const r = (label && /checkbox|radio/.test(e.type) ? label : e).getBoundingClientRect();
    if (r.width < 1 || r.height < 1) continue;
    const own = target * (e.currentCSSZoom ?? 1); // what is enlarged is measured in its own pixels
    if (r.height < own - 0.5 || r.width < own - 0.5) wrong.add(`a target of ${Math.round(r.width)} by ${Math.round(r.height)}: ${said(e)}`);
  }
  return [...wrong];
}"""


def wrong(page: Page, *, still: bool = False) -> list[str]:
    """Everything that is wrong now; ``still``: nothing may scroll."""
    found: list[str] = page.evaluate(MEASURE, [TARGET, still])
    return found
