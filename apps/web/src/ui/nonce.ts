import { setNonce } from 'get-nonce';

/**
 * The number that this page may give to style elements: the server makes one for each answer and names it in the policy.
 * Without a page, as in tests, there is none.
 */
export const nonce: string | undefined =
  (typeof document === 'undefined'
    ? undefined
    : document.querySelector<HTMLMetaElement>('meta[property="csp-nonce"]')?.nonce) || undefined;

// for the libraries that ask for it themselves
if (nonce) setNonce(nonce);
