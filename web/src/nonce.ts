/** The nonce that the page's Content-Security-Policy allows styles by. */
export const nonce =
  document.querySelector<HTMLMetaElement>('meta[name="csp-nonce"]')?.content ?? "";
