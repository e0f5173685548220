package e2e

import (
	"strings"
	"testing"
)

// Every state of a speedometer pair has a color of its own, in light and dark, whatever
// order the styles were loaded in.
func TestSpeedometerStatesAreColored(t *testing.T) {
	p := open(t, true, 1280, 800)
	p.signIn("Ivar Tolm")
	p.visit("/units/8/speedometer")
	p.fill("Tire on it", "33x12.50R15")
	p.sees("Never reads low")
	for _, scheme := range []string{"light", "dark"} {
		eval[bool](p, `(document.documentElement.dataset.mantineColorScheme = '`+scheme+`', true)`)
		colors := map[string]string{}
		for _, state := range []string{"good", "usable", "high", "low"} {
			at := eval[string](p, `(e => e ? getComputedStyle(e).backgroundColor : 'none')(document.querySelector('td button[data-mark=`+state+`]'))`)
			if at == "none" || strings.HasSuffix(at, ", 0)") || at == "transparent" {
				t.Errorf("%s, %s: %s", scheme, state, at)
			}
			if other := colors[at]; other != "" {
				t.Errorf("%s: %s and %s are both %s", scheme, other, state, at)
			}
			colors[at] = state
		}
	}
}
