// The worker behind the live view.
import * as Comlink from 'comlink';
import { ALIVE } from './alive.ts';
import { engine } from './live.ts';

// held for as long as the worker lives: the page learns from it when that ends
void navigator.locks?.request(self.name, () => {
  self.postMessage(ALIVE);
  return new Promise(() => {});
});

Comlink.expose(engine);
