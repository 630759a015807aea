// Before the first paint: the theme chosen last, else what the system prefers.
(() => {
  let chosen = null;
  try {
    chosen = localStorage.getItem('theme');
  } catch {
    // storage may be forbidden
  }
  const dark = matchMedia('(prefers-color-scheme: dark)').matches;
  document.documentElement.dataset.theme = chosen ?? (dark ? 'night' : 'daylight');
})();
