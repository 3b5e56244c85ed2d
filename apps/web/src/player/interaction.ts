let interacted = false;

for (const name of ['pointerdown', 'keydown'] as const) {
  window.addEventListener(name, () => (interacted = true), { capture: true, once: true });
}

/**
 * True once somebody has touched this page. Browsers let a page sound only then; where one would be more generous
 * (it remembers the site, say), a page that suddenly sounds still frightens people: it starts silent and asks.
 */
export const hasInteracted = (): boolean => interacted;
