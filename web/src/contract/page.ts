// The contract as a page of its own, at /api: for those who script.
import SwaggerUI from "swagger-ui-dist/swagger-ui-es-bundle.js";
import "swagger-ui-dist/swagger-ui.css";
import "./page.css";

SwaggerUI({
  url: "/api/v1/openapi.yaml",
  dom_id: "#contract",
  docExpansion: "none",
  deepLinking: true,
  filter: true,
  defaultModelsExpandDepth: -1,
  validatorUrl: null,
  syntaxHighlight: false,
});
