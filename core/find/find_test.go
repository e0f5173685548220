package find

import (
	"fmt"
	"strings"
	"testing"
)

func TestQuery(t *testing.T) {
	for typed, want := range map[string]string{
		"Plow Bell":                "plow bell|",
		"  4.10 ":                  "r4x10|",
		"4,10 Bell":                "r4x10 bell|",
		"41:10":                    "t41x10|",
		"41-10 41/10":              "t41x10 t41x10|",
		"Brücke heult":             "brücke heult|",
		"¾ Drehung":                "f3x4 drehung|",
		"Ｂｅｌｌ ４．１０":                "r4x10 bell|",
		"to 3":                     "|3",
		"the bell":                 "bell|",
		"":                         "|",
		`+"*()~<>@- ' \ %`:         "|",
		"rear_axle":                "rear axle|",
		"3.73 4.10":                "r3x73 r4x10|",
		"12.345.6":                 "345|12 6",
		strings.Repeat("a", 100):   strings.Repeat("a", 40) + "|",
		strings.Repeat("ab c ", 9): "|ab c ab c ab c ab c ab c",
	} {
		s := Query(typed)
		if got := strings.Join(s.Words, " ") + "|" + strings.Join(s.Short, " "); got != want {
			t.Errorf("%q: %q, want %q", typed, got, want)
		}
		if s.None() != (want == "|") {
			t.Errorf("%q: none is %v", typed, s.None())
		}
	}
}

// What is indexed is found by what it holds.
func TestIndex(t *testing.T) {
	for text, words := range map[string][]string{
		"Rear axle 4.10 (41:10), Brücke": {"rear", "r4x10", "t41x10", "brücke"},
		"Spiel ½ Drehung":                {"f1x2", "drehung"},
		"41-10 and 37/9":                 {"t41x10", "t37x9"},
		"GROẞE Welle":                    {"welle"},
	} {
		got := Index(text)
		for _, w := range words {
			if !strings.Contains(got, w) {
				t.Errorf("%q: no %q in %q", text, w, got)
			}
		}
	}
	for _, q := range []string{"4.10", "41:10", "½", "brücke"} {
		s := Query(q)
		if i := Index("Brücke 4.10 41:10 ½ Drehung"); !strings.Contains(i, s.Words[0]) {
			t.Errorf("%q isn't found in %q", q, i)
		}
	}
}

// FuzzQuery: whatever is typed, only letters and digits leave, and few.
func FuzzQuery(f *testing.F) {
	f.Add(`+bell* -"4.10" @3 (41:10)`)
	f.Fuzz(func(t *testing.T, typed string) {
		s := Query(typed)
		if len(s.Words)+len(s.Short) > MostWords {
			t.Errorf("%d words", len(s.Words)+len(s.Short))
		}
		for _, w := range append(s.Words, s.Short...) {
			if w == "" || strings.ContainsAny(w, `+-*"()~<>@%_\ ' `) {
				t.Errorf("%q of %q", w, typed)
			}
		}
		Index(typed)
	})
}

func ExampleQuery() {
	fmt.Println(Query("Bell 4.10, 41:10").Words)
	// Output:
	// [r4x10 t41x10 bell]
}
