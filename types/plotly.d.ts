declare module 'plotly.js-basic-dist-min' {
  interface Plotly {
    react(root: HTMLElement, data: object[], layout: object, config: object): Promise<unknown>;
    purge(root: HTMLElement): void;
  }
  const plotly: Plotly;
  export default plotly;
}
