// Package typed makes what people type and paste alike: full-width digits,
// the many dashes, multiplication signs and spaces come from other keyboards
// and documents and mean the same.
package typed

import "strings"

// Units that a length is typed in.
const (
	Millimeters = "mm"
	Inches      = "in"
)

var alike = strings.NewReplacer(
	"‐", "-", "‑", "-", "‒", "-", "–", "-", "—", "-", "−", "-",
	"×", "x", "✕", "x", "✖", "x", "⨯", "x",
	"″", `"`, "“", `"`, "”", `"`, "„", `"`, "''", `"`, "’", "'", "′", "'",
	"⁄", "/", "∕", "/", "÷", "/",
	"\u00a0", " ", "\u2007", " ", "\u2009", " ", "\u202f", " ", "\u3000", " ", "\t", " ",
)

// Plain returns text in lower case with full-width forms, dashes, signs and
// spaces as on a plain keyboard, without blanks at its ends.
func Plain(text string) string {
	text = strings.Map(func(r rune) rune {
		if r >= '！' && r <= '～' { // full-width forms stand 0xFEE0 above ASCII
			return r - '！' + '!'
		}
		return r
	}, text)
	return strings.TrimSpace(strings.ToLower(alike.Replace(text)))
}
