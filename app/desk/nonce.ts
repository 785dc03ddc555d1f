/** The one-time word that lets this page's scripts run; empty in the browser, which never shows it. */
import { createContext } from "react";

export const Nonce = createContext("");
