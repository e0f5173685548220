package typed_test

import (
	"fmt"
	"strings"
	"testing"

	"zorvel/core/typed"
)

func ExampleCell() {
	fmt.Println(typed.Cell("=SUM(A1)"), typed.Uncell("'=SUM(A1)"), typed.Cell("41/10"))
	// Output: '=SUM(A1) =SUM(A1) 41/10
}

func TestCells(t *testing.T) {
	for _, hidden := range []string{"", " ", "\t", "\r\n", "\u00a0", "\u200b", "\ufeff", "\u2060", "\u00ad", "\u3000", " \t\u200b\ufeff"} {
		for _, sign := range []string{"=", "+", "-", "@", "＝", "＋", "－", "＠"} {
			text := hidden + sign + "cmd|'/c calc'!A1"
			if c := typed.Cell(text); c != "'"+text || typed.Uncell(c) != text {
				t.Errorf("%q goes out as %q and comes back as %q", text, c, typed.Uncell(c))
			}
		}
	}
	for _, text := range []string{"", "a=b", "41-10", "'", "''", "'a", "it's", " a", "é+"} {
		if c := typed.Cell(text); strings.HasPrefix(text, "'") != (c != text) || typed.Uncell(c) != text {
			t.Errorf("%q goes out as %q", text, c)
		}
	}
}

func FuzzCell(f *testing.F) {
	f.Add("=1")
	f.Add("''x")
	f.Fuzz(func(t *testing.T, text string) {
		c := typed.Cell(text)
		if typed.Uncell(c) != text {
			t.Errorf("%q comes back as %q", text, typed.Uncell(c))
		}
	})
}
