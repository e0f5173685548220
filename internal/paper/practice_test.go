package paper

import (
	"bytes"
	"testing"

	"zorvel/core/catalog"
	"zorvel/core/practice/progress"
)

// A certificate is a sheet for whoever practiced, with nothing mastered and with much.
func TestCertificate(t *testing.T) {
	var results []progress.Result
	for i := range uint32(40) {
		off := 0.01 * float64(i%5)
		results = append(results,
			progress.Result{What: "ratio", Level: 1, Seed: i, Points: 90, Right: true},
			progress.Result{What: "remainder", Level: 1 + int(i)%3, Seed: i, Points: 95, Right: true, Off: &off},
			progress.Result{What: "broken", Level: 1, Seed: i, Points: -20})
	}
	var sizes []int
	for _, n := range []int{0, 3, len(results)} {
		b, err := progress.Work(progress.Question{Results: results[:n], Day: 1})
		if err != nil {
			t.Fatal(err)
		}
		pdf, err := Practice(b, catalog.Letterhead{Name: "Havn workshop"}, "Åda Örk — ΩЖ漢", "Scored here.")
		if err != nil || !bytes.HasPrefix(pdf, []byte("%PDF")) {
			t.Fatalf("%d results: %.10q %v", n, pdf, err)
		}
		sizes = append(sizes, len(pdf))
	}
	if sizes[2] <= sizes[0] {
		t.Errorf("who has mastered much has no more on his sheet: %v", sizes)
	}
}
