package regear

// CommonFamily is what commonly made pairs bear instead of a family: whether
// one is made for a housing is not known.
const CommonFamily = "commonly made"

// commonPairs are ring and pinion counts that are made for many axles; general
// knowledge of the trade, for a shop that has entered nothing yet.
var commonPairs = [][2]int{
	{41, 15}, {40, 13}, {43, 13}, {41, 12}, {39, 11}, {41, 11}, {43, 11}, {39, 10}, {37, 9}, {41, 10}, {43, 10}, {40, 9}, {41, 9}, {43, 9}, {39, 8}, {41, 8}, {43, 8}, {39, 7}, {41, 7}, {43, 7},
}

// CommonSets are the pairs to choose from where the shop's lists hold none.
// They have no family, no price and lie on no shelf.
func CommonSets() []GearSet {
	out := make([]GearSet, len(commonPairs))
	for i, z := range commonPairs {
		out[i] = GearSet{Family: CommonFamily, Ring: z[0], Pinion: z[1], Common: true}
	}
	return out
}

// withoutCommon drops commonly made pairs that came with a question, so that
// they are never taken for the shop's own.
func withoutCommon(sets []GearSet) []GearSet {
	var out []GearSet
	for _, g := range sets {
		if !g.Common {
			out = append(out, g)
		}
	}
	return out
}
