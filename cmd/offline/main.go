//go:build js && wasm

// Command offline is the identify bench in a browser: the same answers as the
// server's, from the same code, for a device without a network. The service worker
// asks it where the server can't be reached (web/public/offline.js).
package main

import (
	"syscall/js"

	"zorvel/core/identify/bench"
)

func main() {
	var b bench.Bench
	js.Global().Set("zorvelAnswer", js.FuncOf(func(_ js.Value, args []js.Value) any {
		status, body := b.Answer(args[0].String(), []byte(args[1].String()))
		return map[string]any{"status": status, "body": string(body)}
	}))
	js.Global().Call("zorvelReady")
	select {} // it answers for as long as the worker lives
}
