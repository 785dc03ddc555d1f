/** Does nothing; the router fetches the page's data anew after it. Asked by `useRefresh` alone. */
export const action = () => null;
