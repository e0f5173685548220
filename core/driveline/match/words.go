package match

// What the answers say. A change of wording is a change here and nowhere else.

import (
	"fmt"
	"strings"

	"zorvel/core/driveline"
	"zorvel/core/say"
)

// sideName says which axles hang on an output.
func sideName(d *driveline.Document, port string) string {
	var axles []string
	for _, p := range d.Below(port) {
		if p.Has(driveline.FinalDrive) {
			axles = append(axles, say.Small(p.Called()))
		}
	}
	if len(axles) == 0 {
		return "open end"
	}
	return strings.Join(axles, " with ")
}

// notKnown says that a ratio is missing.
func notKnown(out *Match) string {
	return fmt.Sprintf("Not known yet whether %s match.", out.ends)
}

// exactMatch says that both ends turn alike.
func exactMatch(ends string) string {
	return fmt.Sprintf("Exact match: %s turn alike per meter.", ends)
}

// lockedApart says what a part-time case makes of the difference.
func lockedApart(ends, size string) string {
	return fmt.Sprintf("%s %s apart, and this case locks the two together: works on loose ground, winds up on dry "+
		"pavement.", say.Capital(ends), size)
}

// solidTolerated says that the tires differ by more than that.
func solidTolerated(ends, size string) string {
	return fmt.Sprintf("%s %s apart with nothing between that could give: less than equal tires differ by wear and "+
		"pressure (± %s %%).", say.Capital(ends), size, say.Trim(equalTires, 1))
}

// solidWrong says that it can't stay so.
func solidWrong(ends, size string) string {
	return fmt.Sprintf("%s %s apart with nothing between that could give: it must match.", say.Capital(ends), size)
}

// centerWorks says what the center differential has to take.
func centerWorks(ends, size string, rub float64) string {
	return fmt.Sprintf("%s %s apart: the differential between takes it and works constantly, %s rpm at 80 "+
		"km/h (50 mph).", say.Capital(ends), size, say.Trim(rub, 1))
}
