declare module 'plotly.js-cartesian-dist-min' {
  export * from 'plotly.js';
  import Plotly from 'plotly.js';
  export default Plotly;
}
