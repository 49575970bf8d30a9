/// <reference types="vite/client" />
declare module '*.vue' {
  import type { DefineComponent } from 'vue'
  const component: DefineComponent<object, object, unknown>
  export default component
}

declare module 'plotly.js-basic-dist-min' {
  const Plotly: {
    react(element: HTMLElement, traces: unknown[], layout: object, config: object): Promise<unknown>
  }
  export default Plotly
}
