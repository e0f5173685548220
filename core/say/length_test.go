package say

import "testing"

func TestUnit(t *testing.T) {
	for unit, want := range map[Unit]string{"": "0.254 mm, +0.025 mm", "mm": "0.254 mm, +0.025 mm", "in": "0.01 in, +0.001 in"} {
		if got := unit.F("%s mm, %s mm", unit.Len(0.254), unit.Signed(0.0254)); got != want {
			t.Errorf("%q: %s, want %s", unit, got, want)
		}
	}
}
