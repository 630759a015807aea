// A page is seen some tenths of a second before its code listens. What is clicked or sent meanwhile is kept, the last of it, and
// done once the page says that it listens: otherwise it would be lost, and a form would be sent as the browser does by itself,
// with what was typed in the address.
(() => {
  let kept;
  const click = (event) => {
    const button = event.target.closest('button:not([popovertarget])');
    if (button) kept = () => button.click();
  };
  const submit = (event) => {
    event.preventDefault();
    const { target, submitter } = event;
    kept = () => target.requestSubmit(submitter);
  };
  addEventListener('click', click, true);
  addEventListener('submit', submit, true);
  addEventListener(
    'listening',
    () => {
      removeEventListener('click', click, true);
      removeEventListener('submit', submit, true);
      kept?.();
    },
    { once: true }
  );
})();
