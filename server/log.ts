import pino from "pino";

/** Logs to standard error, one JSON object a line; addresses and texts of prospects stay out of it. */
export const log = pino({ level: process.env.SAUDADE_LOG ?? "info", base: null }, pino.destination(2));
