/** What a worker says once it holds the lock of its own name, by which the page learns when it is gone. */
export const ALIVE = 'gephyra: alive';
