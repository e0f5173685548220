// Package api is the contract of the HTTP interface: openapi.yaml, and the Go
// types and server glue generated from it.
package api

import _ "embed"

//go:generate go tool oapi-codegen -config config.yaml openapi.yaml

// Spec is the OpenAPI document.
//
//go:embed openapi.yaml
var Spec []byte
