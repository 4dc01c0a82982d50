declare module 'plotly.js-basic-dist-min' {
  interface PlotElement extends HTMLElement {
    on(event: 'plotly_hover', handler: (e: { points: readonly { readonly x: number; readonly y: number }[] }) => void): void;
    removeAllListeners?(event: string): void;
  }
  const plotly: {
    react(element: HTMLElement, data: readonly object[], layout: object, config: object): Promise<PlotElement>;
    purge(element: HTMLElement): void;
  };
  export default plotly;
}
