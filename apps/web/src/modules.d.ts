declare module '*.css';
/** The light build has the same types as the whole. */
declare module 'hls.js/light' {
  export { default } from 'hls.js';
}

declare module 'plotly.js-basic-dist-min' {
  const plotly: {
    react(node: HTMLElement, traces: object[], layout: object, config: object): Promise<unknown>;
    purge(node: HTMLElement): void;
  };
  export default plotly;
}
