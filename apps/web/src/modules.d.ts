declare module '*.css';
/** The light build has the same types as the whole. */
declare module 'hls.js/light' {
  export { default } from 'hls.js';
}
