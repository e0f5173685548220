package identify

// What the parts of a measurement take, in minutes, typical of a shop. The order of
// what to measure next depends on them, a verdict never.
const (
	MinutesStands = 8.0 // both sides lifted and on jack stands
	MinutesReady  = 4.0 // propeller off and in gear; a unit clamped
	MinutesEye    = 0.5 // a partial turn judged
	MinutesArc    = 2.5 // a partial turn measured along the rim
	MinutesTag    = 1.0
	MinutesStamp  = 3.0

	minutesRoad     = 15.0
	minutesMember   = 1.0
	minutesPerTooth = 0.08
	minutesShaft    = 0.09 // one shaft turn by hand, counted aloud
	tiring          = 30.0 // shaft turns after which each takes twice as long
	// Starting one more measurement, counting an open pair, and the most
	// output turns that are asked for at once.
	anotherMinutes = 3.0
	minutesCount   = 7.0
	mostTurns      = 8
	manyTurns      = 20
	// luck is the extra log odds that a reading is planned with, so that an
	// unlucky one settles too.
	luck = 4.0
)

// TurningMinutes is the time for so many shaft turns by hand: they are counted aloud from
// a chalk mark, and arms tire.
func TurningMinutes(shaft float64) float64 { return minutesShaft * shaft * (1 + shaft/tiring/2) }

// CountingMinutes is the time to count the teeth of one gear that can be seen.
func CountingMinutes(teeth int) float64 { return minutesMember + minutesPerTooth*float64(teeth) }

// OpeningMinutes is the work to see the gears and to close up again.
func OpeningMinutes(k Kind) float64 {
	return map[Kind]float64{
		RingAndPinion: 35, TwoStage: 45, TransferCase: 90, Gearbox: 120, Planetary: 45, Hub: 25, Gearcase: 90, GearPair: 20, ChainPair: 20,
	}[k]
}
