// jsdom reckons a computed style by matching every rule of every sheet; the toolkit asks for it on each render, and no test
// of a screen looks at one. What stands on the element itself is enough.
globalThis.getComputedStyle = (element) => element.style;
