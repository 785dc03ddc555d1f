/** Narrower than this, in px, a list and what is opened of it are a page each (breakpoint sm of the theme). */
const PHONE_BELOW = 600;

/** Only in the browser, and only where it decides what happens; how something looks is said in CSS. */
export const isPhone = () => window.innerWidth < PHONE_BELOW;
