/** What one operation of the API is: how it is asked, what it answers, and the use case that it calls. */
import type { z } from "zod";
import type { Area, Power } from "../../core/team/scopes.ts";
import type { User } from "../accounts/session.ts";
import type { App } from "../app.ts";
import type { Outcome } from "../errors.ts";

/** Who asks. */
export interface Call {
  app: App;
  user: User;
}

type Shape = Readonly<Record<string, z.ZodType>>;
type Values<S extends Shape> = { [Name in keyof S]: z.output<S[Name]> };

/** Of one thing that is not there the answer is null. */
export type Answered<T> = Outcome<T> | T | null;

interface Described<P extends Shape, Q extends Shape, A extends z.ZodType> {
  /** The name that clients call it by. */
  name: string;
  /** Below /api/v1; "{id}" stands for a parameter. */
  path: string;
  area: Area;
  /** What it does, in a sentence. */
  does: string;
  params?: P;
  query?: Q;
  answer: A;
  /** With these it works on the world of the API's tests, and stands in its documentation. */
  example: {
    params?: Partial<Record<keyof P, string>>;
    query?: Partial<Record<keyof Q, string>>;
    body?: unknown;
  };
}

interface Reads<P extends Shape, Q extends Shape, A extends z.ZodType> extends Described<P, Q, A> {
  run(call: Call, asked: { params: Values<P>; query: Values<Q> }): Answered<z.output<A>>;
}

interface Writes<P extends Shape, B extends z.ZodType, A extends z.ZodType>
  extends Described<P, Record<never, never>, A> {
  body?: B;
  /** It looks only, though it takes a body. */
  isLook?: true;
  run(call: Call, asked: { params: Values<P>; body: z.output<B> }): Answered<z.output<A>>;
}

interface DoesMany<P extends Shape, I extends z.ZodType, A extends z.ZodType>
  extends Described<P, Record<never, never>, A> {
  /** One of the up to 1,000 items, each of which has an answer of its own. */
  item: I;
  run(call: Call, asked: { params: Values<P>; item: z.output<I> }): Answered<z.output<A>>;
}

export type Method = "get" | "post" | "patch" | "delete";

/** As the door knows it, which has checked what `run` is given. */
export interface Operation {
  method: Method;
  name: string;
  path: string;
  area: Area;
  does: string;
  params: Shape;
  query: Shape;
  body: z.ZodType | null;
  item: z.ZodType | null;
  isLook: boolean;
  answer: z.ZodType;
  example: { params?: Record<string, string>; query?: Record<string, string>; body?: unknown };
  run(call: Call, asked: { params: never; query: never; body: never; item: never }): Answered<unknown>;
}

const PLAIN = { params: {}, query: {}, body: null, item: null, isLook: false };

export const read = <P extends Shape, Q extends Shape, A extends z.ZodType>(of: Reads<P, Q, A>) =>
  ({ ...PLAIN, method: "get", ...of }) as unknown as Operation;

export const write = <P extends Shape, B extends z.ZodType, A extends z.ZodType>(
  method: Exclude<Method, "get">,
  of: Writes<P, B, A>,
) => ({ ...PLAIN, method, ...of }) as unknown as Operation;

export const many = <P extends Shape, I extends z.ZodType, A extends z.ZodType>(of: DoesMany<P, I, A>) =>
  ({ ...PLAIN, method: "post", ...of }) as unknown as Operation;

/** What a key has to be good for. */
export const powerOf = ({ method, isLook }: Pick<Operation, "method" | "isLook">): Power =>
  method === "get" || isLook ? "read" : "write";
