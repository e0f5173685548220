package instruments_test

import (
	"fmt"

	"zorvel/core/instruments"
)

// Two instruments on one wire: a satellite receiver and the engine's.
func Example() {
	r := &instruments.Reader{}
	r.Take("$GPRMC,120000,A,6200.0,N,00700.0,W,21.4,90.0,251126,,*02", 0)
	s, _ := r.Take("$IIRPM,E,1,4200,,A*50", 0.2)
	fmt.Printf("%.0f rpm, %.1f kn, %+v\n", s.RPM, s.SpeedKN, r.Count)
	// Output:
	// 4200 rpm, 21.4 kn, {Read:2 Other:0 Broken:0 Void:0 Talkers:1}
}
