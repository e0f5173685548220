// Package made states what is out there: the gears that are commonly made, by
// kind of part, with how often they are met against each other. It is one
// statement for all that reckon with it: which ratio is in a housing, and which
// gears could go in where the shop has entered none.
//
// The weights are rough by intention, in three steps. They order what a reading
// leaves open; they never outweigh a careful reading. No maker's range is in
// them: which of these a housing takes, only its maker's list tells.
package made

// How often a gear set is met, against the others of its kind.
const (
	Everyday = 4.0 // on the lot every week
	Usual    = 2.0
	Seldom   = 1.0
)

// Pair is two gears that are commonly made for each other.
type Pair struct {
	Driven, Driver int // ring and pinion; forward gear and pinion
	Weight         float64
}

// Ratio is a ratio that is commonly made, whatever its tooth counts are.
type Ratio struct {
	Hundredths int // 272 is 2.72
	Weight     float64
}

// Axle lists the ring and pinion pairs that are made for many axles, by rising
// ratio.
func Axle() []Pair { return axle[:] }

var axle = [...]Pair{
	{41, 17, Seldom}, {41, 16, Seldom}, {41, 15, Usual}, {43, 15, Seldom}, {43, 14, Usual}, {40, 13, Usual}, {45, 14, Usual}, {42, 13, Usual}, {43, 13, Usual}, {41, 12, Everyday},
	{45, 13, Seldom}, {35, 10, Usual}, {46, 13, Usual}, {39, 11, Everyday}, {43, 12, Seldom}, {47, 13, Seldom}, {37, 10, Usual}, {41, 11, Everyday}, {56, 15, Usual}, {45, 12, Seldom},
	{42, 11, Seldom}, {39, 10, Usual}, {43, 11, Usual}, {47, 12, Seldom}, {40, 10, Seldom}, {41, 10, Everyday}, {37, 9, Everyday}, {47, 11, Usual}, {43, 10, Usual}, {39, 9, Usual},
	{40, 9, Seldom}, {49, 11, Seldom}, {36, 8, Seldom}, {50, 11, Usual}, {41, 9, Everyday}, {37, 8, Usual}, {51, 11, Usual}, {65, 14, Seldom}, {43, 9, Usual}, {34, 7, Seldom},
	{39, 8, Everyday}, {49, 10, Seldom}, {35, 7, Seldom}, {46, 9, Seldom}, {41, 8, Everyday}, {47, 9, Usual}, {37, 7, Usual}, {43, 8, Usual}, {38, 7, Usual}, {39, 7, Seldom},
	{40, 7, Seldom}, {41, 7, Usual}, {43, 7, Seldom}, {37, 6, Seldom}, {39, 6, Seldom}, {41, 6, Usual}, {43, 6, Seldom},
}

// Gearcase lists the bevel pairs that are made for many outboard and stern drive
// gearcases.
func Gearcase() []Pair { return gearcase[:] }

var gearcase = [...]Pair{
	{20, 17, Seldom}, {24, 20, Seldom}, {22, 17, Seldom}, {20, 15, Usual}, {19, 14, Seldom}, {24, 17, Usual}, {26, 18, Seldom}, {22, 15, Usual}, {28, 19, Seldom}, {24, 16, Seldom},
	{26, 17, Seldom}, {23, 15, Seldom}, {28, 17, Seldom}, {26, 15, Usual}, {21, 12, Usual}, {24, 13, Usual}, {26, 14, Everyday}, {28, 15, Usual}, {25, 13, Seldom}, {27, 14, Seldom},
	{26, 13, Everyday}, {29, 14, Usual}, {27, 13, Everyday}, {28, 13, Usual}, {29, 13, Usual}, {27, 12, Usual}, {30, 13, Usual}, {28, 12, Usual}, {29, 12, Seldom}, {30, 12, Seldom},
	{31, 12, Seldom},
}

// Low lists the ratios that are commonly made for a transfer case's low range.
func Low() []Ratio { return low[:] }

var low = [...]Ratio{
	{141, Seldom}, {187, Seldom}, {196, Usual}, {200, Usual}, {203, Usual}, {210, Seldom}, {228, Seldom}, {236, Seldom}, {240, Seldom}, {246, Usual}, {248, Usual}, {257, Usual},
	{261, Usual}, {262, Usual}, {264, Usual}, {266, Usual}, {269, Usual}, {270, Seldom}, {271, Usual}, {272, Everyday}, {274, Usual}, {285, Seldom}, {292, Seldom}, {300, Usual},
	{315, Seldom}, {332, Seldom}, {380, Usual}, {400, Usual}, {430, Seldom}, {500, Seldom},
}

// TwoStage lists the ratios that are commonly made for an axle of two stages in
// one housing.
func TwoStage() []Ratio { return twoStage[:] }

var twoStage = [...]Ratio{
	{440, Usual}, {456, Usual}, {463, Seldom}, {488, Usual}, {511, Seldom}, {543, Usual}, {572, Seldom}, {583, Usual}, {614, Usual}, {650, Usual}, {683, Usual}, {717, Usual}, {760, Seldom}, {817, Seldom},
}

// Portal lists the pairs that are commonly made for portal hubs.
func Portal() []Pair { return portal[:] }

var portal = [...]Pair{{26, 23, Seldom}, {27, 22, Seldom}, {26, 21, Seldom}, {28, 22, Seldom}, {27, 20, Seldom}, {30, 20, Usual}, {28, 14, Usual}, {32, 15, Usual}}
