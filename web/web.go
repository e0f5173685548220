// Package web holds the built front end.
package web

import "embed"

// Dist is the folder that the front end's build fills.
//
//go:embed all:dist
var Dist embed.FS
