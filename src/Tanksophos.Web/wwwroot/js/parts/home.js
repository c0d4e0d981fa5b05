// Where the program lies under its address: nothing at the top, '/tanks' behind a proxy that gives it that part.
export const home = new URL('../..', import.meta.url).pathname.replace(/\/$/, '');
