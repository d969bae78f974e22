/* global document, localStorage */
// The light as it was last shown, before anything is painted; the application takes over from here.
try {
  document.documentElement.dataset.light = localStorage.getItem('keen.light-shown') ?? 'day';
} catch {
  // a browser that keeps nothing begins by day
}
