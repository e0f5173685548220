package regear

import (
	"zorvel/core/driveline/match"
	"zorvel/core/exact"
	"zorvel/core/tire"
)

// Row is one gear in one range of a variant.
type Row struct {
	Gear    string       `json:"gear"`
	Range   string       `json:"range,omitempty"`
	Reverse bool         `json:"reverse,omitempty"`
	Overall exact.Number `json:"overall"`
	// ActsLike is the overall ratio that would do the same on the stock tire.
	ActsLike float64 `json:"acts_like"`
	KMH      float64 `json:"kmh_per_1000"`
	// Thrust is newtons at the tires per newton meter of the engine.
	Thrust   float64    `json:"thrust"`
	RPM      []float64  `json:"rpm"`       // at the speeds asked for
	ShiftKMH float64    `json:"shift_kmh"` // at the shift rpm
	Force    []*float64 `json:"force_n,omitempty"`
	Formula  string     `json:"formula"`
}

// Variant is a ratio of the primary axle on a tire, through all gears.
type Variant struct {
	ID        string       `json:"id"`
	Name      string       `json:"name"`
	Ratio     exact.Number `json:"ratio"`
	RollingMM exact.Number `json:"rolling_mm"`
	// Effective is what the ratio acts like on the stock tire.
	Effective exact.Number `json:"effective"`
	// Against is thrust in every gear against stock, in percent: 0 is alike.
	Against   float64      `json:"against_stock_percent"`
	CruiseRPM float64      `json:"cruise_rpm"`
	InBand    string       `json:"in_band"` // in, below, above, or none without a band
	Crawl     exact.Number `json:"crawl"`   // first gear, lowest range
	CrawlKMH  float64      `json:"crawl_kmh"`
	Launch    float64      `json:"launch_percent"` // thrust of the first gear in high against stock, 100 is alike
	Rows      []Row        `json:"rows"`
	Formula   string       `json:"formula"`
	MaxForce  *float64     `json:"max_force_n,omitempty"`
}

// Candidate is a set, or a pair of sets, that could go in; or what is in it.
type Candidate struct {
	ID      string   `json:"id"`
	Name    string   `json:"name"`
	Variant string   `json:"variant"`
	Rear    *GearSet `json:"rear,omitempty"` // of the primary axle
	Front   *GearSet `json:"front,omitempty"`
	// Keeps names the ends whose gears stay in; Opens names every axle that is
	// opened.
	Keeps []string `json:"keeps,omitempty"`
	Opens []string `json:"opens"`
	// Change is the spur pair that goes in where the axle has change gears and
	// ring and pinion stay: teeth on the pinion shaft, teeth on the input shaft.
	Change []int `json:"change,omitempty"`
	// NextMatch is front against rear with the center that will come next.
	NextMatch *match.Match `json:"next_match,omitempty"`
	// Off is how far the ratio is from back to stock, in percent: positive
	// is shorter.
	Off      float64       `json:"off_percent"`
	Match    *match.Match  `json:"match,omitempty"`
	Carriers []CarrierFit  `json:"carriers"`
	Shelf    bool          `json:"shelf"`
	Low      *exact.Number `json:"low,omitempty"` // of the estimate; absent where nothing is priced
	High     *exact.Number `json:"high,omitempty"`
	Complete bool          `json:"priced"`
	Points   []Penalty     `json:"points"`
	Score    float64       `json:"score"`
	Refused  string        `json:"refused,omitempty"` // why it can't be recommended
	Schools  []string      `json:"schools"`
	// Also names sets of the same label that would do the same.
	Also  []string `json:"also,omitempty"`
	ratio exact.Number
}

// CarrierFit says whether an axle's carrier takes a ratio.
type CarrierFit struct {
	At    string `json:"at"`
	State string `json:"state"` // fits, other, unknown
	Text  string `json:"text"`
}

// Penalty is one thing that speaks against a candidate, in points: one point
// is about one percent off.
type Penalty struct {
	What   string  `json:"what"`
	Points float64 `json:"points"`
	Text   string  `json:"text"`
}

// School is one way the trade decides.
type School struct {
	ID     string        `json:"id"` // back_to_stock, rule_of_thumb, by_the_numbers, by_use
	Name   string        `json:"name"`
	Target *exact.Number `json:"target,omitempty"`
	From   *exact.Number `json:"from,omitempty"`
	To     *exact.Number `json:"to,omitempty"`
	Pick   string        `json:"pick,omitempty"` // a variant
	Text   string        `json:"text"`
	How    string        `json:"formula"`
}

// Advice is the recommendation.
type Advice struct {
	Candidate string   `json:"candidate"`
	Sentence  string   `json:"sentence"`
	For       []string `json:"for"`
	Against   []string `json:"against"`
	Runner    string   `json:"runner_up,omitempty"`
	Sure      string   `json:"sure"`
}

// Next is the same question for another tire.
type Next struct {
	Name       string       `json:"name"`
	RollingMM  exact.Number `json:"rolling_mm"`
	Percent    float64      `json:"percent"` // against the new tire
	Equivalent exact.Number `json:"equivalent"`
	Best       string       `json:"best"` // candidate
	BestName   string       `json:"best_name"`
	// Recommended is how the recommended gears do on it, against stock in %.
	Recommended float64 `json:"recommended_against_stock_percent"`
	CruiseRPM   float64 `json:"cruise_rpm"`
	Text        string  `json:"text"`
}

// Suits is a tire that suits gears.
type Suits struct {
	Name      string       `json:"name"`
	RollingMM exact.Number `json:"rolling_mm"`
	Against   float64      `json:"against_stock_percent"`
	CruiseRPM float64      `json:"cruise_rpm"`
	Fits      bool         `json:"fits"` // within 3 % of stock
}

// Reverse answers: these gears are in it, which tires suit?
type Reverse struct {
	Candidate string       `json:"candidate"`
	Name      string       `json:"name"`
	RollingMM exact.Number `json:"rolling_mm"`
	AboutMM   float64      `json:"about_diameter_mm"`
	Formula   string       `json:"formula"`
	Tires     []Suits      `json:"tires"`
}

// Mass is what heavier tires add.
type Mass struct {
	ExtraKG  float64 `json:"extra_kg"`      // all wheels
	ActsLike float64 `json:"acts_like_kg"`  // when pulling away: mass and spin
	Percent  float64 `json:"percent_of_kg"` // of the vehicle, 0 where its mass isn't known
	Formula  string  `json:"formula"`
	Text     string  `json:"text"`
}

// FactoryPoint is a factory option as a reference.
type FactoryPoint struct {
	Factory
	RollingMM exact.Number `json:"rolling_mm"`
	Against   float64      `json:"against_stock_percent"`
	Equals    exact.Number `json:"equals_on_new_tire"`
	Text      string       `json:"text"`
}

// LowOption is a low-range set as another way to crawl.
type LowOption struct {
	ID         string        `json:"id"`
	Name       string        `json:"name"`
	Ratio      exact.Number  `json:"ratio"`
	Crawl      exact.Number  `json:"crawl"` // with the gears that are in it
	CrawlKMH   float64       `json:"crawl_kmh"`
	WithAdvice exact.Number  `json:"crawl_with_recommended"`
	Shelf      int           `json:"shelf"`
	Price      *exact.Number `json:"price,omitempty"`
	Text       string        `json:"text"`
}

// HighOption is a high-range set as another way out: both axles change at once.
type HighOption struct {
	ID        string        `json:"id"`
	Name      string        `json:"name"`
	Ratio     exact.Number  `json:"ratio"`
	Against   float64       `json:"against_stock_percent"` // with the axles left alone
	CruiseRPM float64       `json:"cruise_rpm"`
	Shelf     int           `json:"shelf"`
	Price     *exact.Number `json:"price,omitempty"`
	Text      string        `json:"text"`
}

// Strength compares what was entered of a family's sets.
type Strength struct {
	Family   string  `json:"family"`
	RingMM   float64 `json:"ring_mm,omitempty"`
	PinionMM float64 `json:"pinion_mm,omitempty"`
	Spiders  int     `json:"spiders,omitempty"`
	Splines  int     `json:"splines,omitempty"`
	TubeMM   float64 `json:"tube_mm,omitempty"`
	Text     string  `json:"text"`
}

// Plan is the whole answer.
type Plan struct {
	OldTire    *tire.Answer   `json:"old_tire"`
	NewTire    *tire.Answer   `json:"new_tire"`
	Change     *tire.Change   `json:"change"`
	Fitted     exact.Number   `json:"fitted"` // ring and pinion of the primary axle
	StockRatio exact.Number   `json:"stock_ratio"`
	Equivalent exact.Number   `json:"equivalent"`
	Axles      []AxleNow      `json:"axles"`
	SpeedsKMH  []float64      `json:"speeds_kmh"`
	CruiseGear string         `json:"cruise_gear"`
	Use        string         `json:"use"`
	Before     Variant        `json:"before"`
	TiresOnly  Variant        `json:"tires_only"`
	Variants   []Variant      `json:"variants"`
	Candidates []Candidate    `json:"candidates"`
	Schools    []School       `json:"schools"`
	Agreement  string         `json:"agreement"`
	Advice     Advice         `json:"advice"`
	Next       []Next         `json:"next_tires"`
	Reverse    []Reverse      `json:"reverse"`
	Mass       *Mass          `json:"mass,omitempty"`
	Factory    []FactoryPoint `json:"factory"`
	LowSets    []LowOption    `json:"low_sets"`
	HighSets   []HighOption   `json:"high_sets"`
	Strength   []Strength     `json:"strength"`
	Estimate   Estimate       `json:"estimate"`
	WhileOpen  []OpenItem     `json:"while_open"`
	Cautions   []string       `json:"cautions"`
	Notes      []string       `json:"notes"`
	Currency   string         `json:"currency,omitempty"`
	Automatic  string         `json:"automatic,omitempty"` // what an automatic gearbox makes of it

	folded []Candidate // of a label that another candidate stands for
}

// AxleNow is a driven axle as it is.
type AxleNow struct {
	At    string       `json:"at"`
	Name  string       `json:"name"`
	Ratio exact.Number `json:"ratio"`
	Teeth string       `json:"teeth,omitempty"`
	// Family is named; Families of gear sets may fit.
	Family   string   `json:"family,omitempty"`
	Families []string `json:"families"`
}

func (o *Plan) find(id string) *Candidate {
	for i := range o.folded {
		if o.folded[i].ID == id {
			return &o.folded[i]
		}
	}
	for i := range o.Candidates {
		if o.Candidates[i].ID == id {
			return &o.Candidates[i]
		}
	}
	return nil
}

func (o *Plan) variant(id string) *Variant {
	for i := range o.Variants {
		if o.Variants[i].ID == id {
			return &o.Variants[i]
		}
	}
	return &o.TiresOnly
}
