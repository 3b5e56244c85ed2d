/** The light of one picture: sky from top to horizon, water, and what glows. */
export interface SceneLight {
  readonly sky: readonly [string, string, string, string];
  readonly water: readonly [string, string];
  readonly glow: string;
  readonly windows: string;
}

export const DUSK: SceneLight = {
  sky: ['#22304f', '#7c6a83', '#e0a36b', '#f3cf94'],
  water: ['#b98a6a', '#22344a'],
  glow: '#f6b64b',
  windows: '#ffcf6e',
};

export const LIGHTS: Readonly<Record<string, SceneLight>> = {
  dusk: DUSK,
  morning: {
    sky: ['#5f86a8', '#a9c3cf', '#f0dcc0', '#f9eed6'],
    water: ['#cfd3c6', '#4a7389'],
    glow: '#ffe1a1',
    windows: '#fff0c4',
  },
  night: {
    sky: ['#0d1526', '#1c2a45', '#3a3f5f', '#5b5370'],
    water: ['#3a3f5f', '#0d1a2c'],
    glow: '#f2bd55',
    windows: '#ffd98c',
  },
  noon: {
    sky: ['#3f7fa6', '#7fb2c9', '#c4dcdc', '#e9ecd9'],
    water: ['#86b3b8', '#28566e'],
    glow: '#fff3cf',
    windows: '#f4d98f',
  },
  harvest: {
    sky: ['#3b2f45', '#8a4f4d', '#d98a4a', '#f2c36b'],
    water: ['#a06a4c', '#33283f'],
    glow: '#ffb347',
    windows: '#ffd27a',
  },
};

/** The harbour chapel, 1280 × 720, without its boat: that one moves. */
export function sceneSvg(light: SceneLight): string {
  const [top, high, low, horizon] = light.sky;
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 1280 720" width="1280" height="720">
<defs>
<linearGradient id="sky" x1="0" y1="0" x2="0" y2="1"><stop offset="0" stop-color="${top}"/><stop offset=".55" stop-color="${high}"/><stop offset=".8" stop-color="${low}"/><stop offset="1" stop-color="${horizon}"/></linearGradient>
<linearGradient id="water" x1="0" y1="0" x2="0" y2="1"><stop offset="0" stop-color="${light.water[0]}"/><stop offset="1" stop-color="${light.water[1]}"/></linearGradient>
<radialGradient id="lamp"><stop offset="0" stop-color="#fff2cf"/><stop offset=".35" stop-color="${light.glow}" stop-opacity=".65"/><stop offset="1" stop-color="${light.glow}" stop-opacity="0"/></radialGradient>
</defs>
<rect width="1280" height="474" fill="url(#sky)"/><rect y="470" width="1280" height="250" fill="url(#water)"/>
<circle cx="905" cy="424" r="60" fill="#ffe6ae"/><circle cx="905" cy="424" r="210" fill="url(#lamp)" opacity=".5"/>
<path d="M0 474 120 436 235 450 350 412 500 456 655 446 790 466H0Z" fill="#4b4a66" opacity=".85"/>
<path d="M690 472 850 456 1020 461 1190 441 1280 451V478H690Z" fill="#5b5370" opacity=".85"/>
<g fill="#1f2838"><path d="M236 262h200v226H236z"/><path d="M220 268 336 172 452 268Z"/><path d="M430 488V152h74v336Z"/><path d="M424 156 467 58 510 156Z"/><path d="M464 62V34h6v28zM456 42h22v5h-22z"/><path d="M0 486h610l70 34H0Z"/><path d="M690 520h4v-54h-4zM760 520h4v-54h-4z"/></g>
<g fill="${light.windows}"><path d="M266 340a17 25 0 0 1 34 0v60h-34zM318 340a17 25 0 0 1 34 0v60h-34zM370 340a17 25 0 0 1 34 0v60h-34zM451 208a16 23 0 0 1 32 0v36h-32z"/><path d="M320 488v-48a15 21 0 0 1 30 0v48z"/></g>
<circle cx="336" cy="392" r="180" fill="url(#lamp)" opacity=".5"/>
<g fill="#161d2b"><path d="M668 566q42 20 92 0l-10 24h-72z"/></g>
<g fill="#1a2130"><circle cx="118" cy="566" r="25"/><path d="M76 720q0-126 42-126t42 126z"/><circle cx="206" cy="584" r="22"/><path d="M170 720q0-110 36-110t36 110z"/><circle cx="548" cy="594" r="22"/><path d="M512 720q0-102 36-102t36 102z"/></g>
</svg>`;
}

/** The boat that sails through the picture, 200 × 200. */
export const BOAT_SVG = `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 200 200" width="200" height="200">
<g fill="#161d2b"><path d="M14 158q82 34 168 0l-18 36H34zM94 158V8h6v150z"/><path d="M104 18q66 58 68 126h-68z"/><path d="M88 40q-44 50-50 100h50z" opacity=".8"/></g></svg>`;
