/** The types that a client has from the API's description (OpenAPI 3.1), which is read and checked on the way. */
import openapiTS, { astToString } from "openapi-typescript";
import { openApi } from "../server/api/openapi.ts";

export async function apiTypes(): Promise<string> {
  const tree = await openapiTS(JSON.stringify(openApi("https://saudade.example")));
  return `/** Made from the API's description by \`npm run api-client\`; change the operations instead. */\n${astToString(tree)}`;
}
