declare module 'comlink/dist/esm/node-adapter.mjs' {
  import type { Endpoint } from 'comlink';
  import type { NodeEndpoint } from 'comlink/dist/esm/node-adapter';

  export default function nodeEndpoint(port: NodeEndpoint): Endpoint;
}
