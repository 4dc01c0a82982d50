/** Ends the process where a step does not end: a kernel call can't be interrupted, but a thread beside it goes on. */
import { Worker } from 'node:worker_threads';

const THREAD = `
const { parentPort, workerData } = require('node:worker_threads');
let timer;
parentPort.on('message', (step) => {
  clearTimeout(timer);
  if (!step) return;
  timer = setTimeout(() => {
    require('node:fs').writeSync(2, step + ' ran for ' + workerData + ' s without an end: given up, nothing was written\\n');
    process.kill(process.pid, 'SIGKILL');
  }, 1000 * workerData);
});`;

/**
 * Watches steps.
 * @param seconds a step may run; then its name goes to standard error and the process is killed
 */
export function watchSteps(seconds: number): { begin: (step: string) => void; end: () => void } {
  const thread = new Worker(THREAD, { eval: true, workerData: seconds });
  // Nothing waits for it.
  thread.unref();
  return { begin: (step) => thread.postMessage(step), end: () => thread.postMessage(null) };
}
