// Package api is the contract of the HTTP interface: a file per room, joined
// into openapi.yaml, and the Go types and server glue generated from it. Where
// a value is the core's, the contract names the core's type.
package api

import _ "embed"

//go:generate sh -c "go run ./bundle rooms/common.yaml $(ls rooms/*.yaml | grep -v common) > .openapi && mv .openapi openapi.yaml"
//go:generate sh -c "go run ./bundle -joined rooms/common.yaml $(ls rooms/*.yaml | grep -v common) > .joined && go tool oapi-codegen -config config.yaml .joined && rm .joined"

// Spec is the OpenAPI document.
//
//go:embed openapi.yaml
var Spec []byte
