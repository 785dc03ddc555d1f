/** Forms whose fields are a schema's: the browser checks them by what the server checks them by. */
import { standardSchemaResolver } from "@hookform/resolvers/standard-schema";
import { useMemo } from "react";
import { type DefaultValues, type FieldValues, set, type UseFormReturn, useForm } from "react-hook-form";
import { z } from "zod";
import { plainIssue } from "../../core/plain-issue";
import type { FieldErrors } from "./field";

// The same words as the server's, where a schema says nothing itself.
z.config({ customError: plainIssue });

/** `Values`: as they are typed. `Sent`: as the schema makes them. */
export interface SchemaForm<Values extends FieldValues, Sent> extends UseFormReturn<Values, unknown, Sent> {
  /** For the form's element: tells `onSend` once the schema found nothing wrong, and else shows what and goes there. */
  onSubmit: (event: React.FormEvent) => void;
}

/** The form of a schema, for the parts that it is made of. */
export type FormOf<Schema extends z.ZodType<unknown, FieldValues>> = SchemaForm<
  z.input<Schema>,
  z.output<Schema>
>;

/** `refused`: what the server found wrong with what was sent last; it stands at its fields until they are changed. */
export function useSchemaForm<Values extends FieldValues, Sent>(
  schema: z.ZodType<Sent, Values>,
  start: DefaultValues<Values>,
  refused: FieldErrors,
  onSend: (values: Sent) => void,
): SchemaForm<Values, Sent> {
  const errors = useMemo(() => placed(refused), [refused]);
  const form = useForm<Values, unknown, Sent>({
    resolver: standardSchemaResolver(schema),
    defaultValues: start,
    errors,
  });
  const submit = form.handleSubmit(onSend);
  return { ...form, onSubmit: (event) => void submit(event) };
}

/** "followUp.body" as the form keeps it; what is wrong with the whole ("form") is no field's. */
function placed({ form: _, ...byField }: FieldErrors): object {
  const errors = {};
  for (const [name, message] of Object.entries(byField)) set(errors, name, { type: "server", message });
  return errors;
}
