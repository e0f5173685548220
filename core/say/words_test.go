package say

import "testing"

func TestWords(t *testing.T) {
	for _, c := range []struct{ s, capital, small, clip string }{
		{"", "", "", ""},
		{"x", "X", "x", "x"},
		{"Rear axle", "Rear axle", "rear axle", "Rear…"},
		{"østre axle", "Østre axle", "østre axle", "østr…"},
		{"Østre axle", "Østre axle", "østre axle", "Østr…"},
		{"PTO shaft", "PTO shaft", "PTO shaft", "PTO …"},
		{"R 2", "R 2", "r 2", "R 2"},
		{"🛻 lift", "🛻 lift", "🛻 lift", "🛻 li…"},
	} {
		if got := Capital(c.s); got != c.capital {
			t.Errorf("Capital(%q) = %q", c.s, got)
		}
		if got := Small(c.s); got != c.small {
			t.Errorf("Small(%q) = %q", c.s, got)
		}
		if got := Clip(c.s, 4); got != c.clip {
			t.Errorf("Clip(%q, 4) = %q", c.s, got)
		}
	}
}

func TestOrdinal(t *testing.T) {
	for n, want := range map[int]string{1: "1st", 2: "2nd", 3: "3rd", 4: "4th", 11: "11th", 12: "12th", 13: "13th",
		21: "21st", 102: "102nd", 111: "111th"} {
		if got := Ordinal(n); got != want {
			t.Errorf("%d is %s, not %s", n, got, want)
		}
	}
}
