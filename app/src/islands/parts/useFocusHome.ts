import { useEffect } from 'react';

/**
 * Keeps the place of the keyboard when what has the focus goes away, as a button does that has done its work: the focus
 * goes to the nearest thing around it that is still there, and not to the top of the page.
 */
export function useFocusHome(): void {
  useEffect(() => {
    let around: HTMLElement[] = [];
    const remember = ({ target }: FocusEvent) => {
      around = [];
      for (let at = target as HTMLElement | null; at; at = at.parentElement) around.push(at);
    };
    const goHome = () => {
      const [last] = around;
      if (!last || last.isConnected || document.activeElement !== document.body) return;
      const home = around.find((element) => element.isConnected && element.matches('section, article, aside, main, form, [role="region"]'));
      if (!home) return;
      if (!home.hasAttribute('tabindex')) home.tabIndex = -1;
      home.focus({ preventScroll: true });
    };
    const observer = new MutationObserver(goHome);
    observer.observe(document.body, { childList: true, subtree: true });
    document.addEventListener('focusin', remember);
    return () => {
      observer.disconnect();
      document.removeEventListener('focusin', remember);
    };
  }, []);
}
