/* global window, location, URL */
// Where the browser can, no text becomes markup, no address a script, unless it passes here: style sheets, which hold no
// markup, and the application's own workers.
if (window.trustedTypes)
  window.trustedTypes.createPolicy('default', {
    createHTML: (text) => (text.includes('<') ? null : text),
    createScriptURL: (address) => {
      const url = new URL(address, location.href);
      return url.origin === location.origin && /^\/assets\/[\w.-]+\.js$/.test(url.pathname) ? url.href : null;
    },
  });
// The reader of schemas asks otherwise whether it may make code of text; under this policy it may not, and the question
// is reported as an attempt.
globalThis.__zod_globalConfig = { jitless: true };
