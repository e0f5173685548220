package tire

import (
	"regexp"
	"slices"

	"zorvel/core/exact"
)

// class is a family of sizes whose marking has no height: how high, in percent
// of the width, its design sizes are, and how far they stay from that, in
// percent of the diameter. The values are fitted to the design diameters that
// the tire standards list (TRA Year Book, ETRTO Standards Manual); tests hold
// such sizes to them.
type class struct {
	words  string
	rim    [2]float64 // inches, from … to
	width  [2]float64 // inches, from … below
	aspect float64
	spread float64
	only   []string // widths as written, where the class is told by them
}

// lowSections are the widths of the low-section passenger sizes, told from
// older ones by their hundredths.
var lowSections = []string{"6.15", "6.45", "6.85", "6.95", "7.35", "7.75", "8.15", "8.45", "8.55", "8.85", "9.15"}

// Tractor and loader sizes are told by their widths too.
var (
	tractorWidths = []string{"7.2", "8.3", "9.5", "11.2", "12.4", "13.6", "14.9", "15.5", "16.9", "18.4", "20.8", "23.1", "24.5", "28.1", "30.5"}
	loaderWidths  = []string{"15.5", "17.5", "20.5", "23.5", "26.5", "29.5", "33.25", "33.5", "37.25"}
)

// classes, first match wins.
var classes = []class{
	{"wide-base loader tire", [2]float64{25, 35}, [2]float64{15, 40}, 82, 2, loaderWidths},
	{"tractor tire", [2]float64{38, 54}, [2]float64{15.5, 15.6}, 77, 3, tractorWidths},
	{"tractor tire", [2]float64{16, 54}, [2]float64{7, 10}, 91, 2.5, tractorWidths},
	{"tractor tire", [2]float64{16, 54}, [2]float64{10, 16}, 87, 2.5, tractorWidths},
	{"tractor tire", [2]float64{16, 54}, [2]float64{16, 20}, 84, 2.5, tractorWidths},
	{"tractor tire", [2]float64{16, 54}, [2]float64{20, 32}, 81, 2.5, tractorWidths},
	{"low-section passenger tire", [2]float64{13, 15}, [2]float64{6, 10}, 81.5, 2.5, lowSections},
	{"low-section passenger tire", [2]float64{14, 14}, [2]float64{8.25, 8.26}, 81.5, 2.5, nil},
	{"passenger or truck tire: both are made, of very different height", [2]float64{15, 15}, [2]float64{8.25, 8.26}, 95, 9, nil},
	{"small tire", [2]float64{4, 12.5}, [2]float64{2, 30}, 93, 8, nil},
	{"light truck tire", [2]float64{15, 15}, [2]float64{7, 7.05}, 104, 2, nil},
	{"light truck tire", [2]float64{15, 15}, [2]float64{7.5, 7.55}, 104, 2, nil},
	{"older passenger tire", [2]float64{13, 15}, [2]float64{4.5, 8}, 95, 3, nil},
	{"narrow tire", [2]float64{13, 23}, [2]float64{2, 5.5}, 100, 5, nil},
	{"light truck tire", [2]float64{16, 17}, [2]float64{5.5, 9.5}, 105, 2.5, nil},
	{"truck tire", [2]float64{20, 22}, [2]float64{6, 9.5}, 111, 2, nil},
	{"truck tire", [2]float64{20, 22}, [2]float64{9.5, 10.5}, 107, 2, nil},
	{"truck tire", [2]float64{20, 24}, [2]float64{10.5, 12.9}, 102, 2, nil},
	{"truck tire", [2]float64{20, 22}, [2]float64{12.9, 15}, 102.5, 2, nil},
	{"grader or loader tire", [2]float64{24, 35}, [2]float64{12.9, 30}, 106, 2.5, nil},
}

// dropCenter are the classes on half-inch rims.
var dropCenter = []class{
	{"light truck or skid tire", [2]float64{16.5, 16.5}, [2]float64{6, 9.9}, 74, 2, nil},
	{"light truck or skid tire", [2]float64{16.5, 16.5}, [2]float64{9.9, 11}, 70, 2, nil},
	{"light truck or skid tire", [2]float64{16.5, 16.5}, [2]float64{11, 14}, 68.4, 2, nil},
	{"truck tire", [2]float64{17.5, 17.5}, [2]float64{7, 11}, 82.5, 2, nil},
	{"truck tire", [2]float64{19.5, 19.5}, [2]float64{7, 9.5}, 89, 2, nil},
	{"truck tire", [2]float64{22.5, 24.5}, [2]float64{7, 8.5}, 89.5, 2, nil},
	{"truck tire", [2]float64{22.5, 24.5}, [2]float64{8.5, 10.5}, 88, 2, nil},
	{"truck tire", [2]float64{22.5, 24.5}, [2]float64{10.5, 11.5}, 86, 2, nil},
	{"truck tire", [2]float64{22.5, 24.5}, [2]float64{11.5, 14}, 84, 2, nil},
}

// classOf finds the class of a width and rim in inches; sizes in none are
// estimated with a spread to match.
func classOf(list []class, width exact.Number, rim exact.Number) class {
	w, r := width.Float(), rim.Float()
	text := width.Short(3)
	for _, c := range list {
		if r < c.rim[0] || r > c.rim[1] || w < c.width[0] || w >= c.width[1] {
			continue
		}
		if c.only != nil && !slices.Contains(c.only, text) {
			continue
		}
		return c
	}
	if rimHalf := rim.Add(rim); whole(rimHalf) && !whole(rim) {
		return class{words: "size that isn't in the tables", aspect: 82, spread: 6}
	}
	return class{words: "size that isn't in the tables", aspect: 100, spread: 8}
}

// Letter sizes tell the load by a letter, and by it and the series the width:
// H78-15. Widths in mm of the 78 series (TRA); wider ones of lower series
// carry the same.
var letterWidths = map[string]int64{"A": 165, "B": 175, "C": 180, "D": 185, "E": 195, "F": 205, "G": 215, "H": 225, "J": 230, "K": 235, "L": 240, "M": 245, "N": 250}

var letterSize = regexp.MustCompile(`^([A-HJ-N])(R?)\s*(50|60|70|78)\s*(?:-|\s|R)\s*(1[3-6])\b`)
