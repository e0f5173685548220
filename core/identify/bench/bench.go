// Package bench answers what the identify bench asks: readings of a ratio weighed,
// words said back, and what is known of each kind of stage. It is the whole of the
// bench without a server, so that it also answers on a device without a network.
package bench

import (
	"zorvel/core/exact"
	"zorvel/core/identify"
)

// Question is readings of one ratio, and what they are to be weighed with.
type Question struct {
	Stage      identify.Stage      `json:"stage"`
	Readings   []identify.Reading  `json:"readings"`
	Situation  *identify.Situation `json:"situation,omitempty"`
	Order      *identify.Order     `json:"order,omitempty"`      // what is about to be ordered
	Candidates *int                `json:"candidates,omitempty"` // how many to list, down to one in a million
	Prior      *string             `json:"prior,omitempty"`      // buildable, or shop
	Catalog    *[]Known            `json:"catalog,omitempty"`    // builds known to exist, taken as likely first
}

// Shop is the prior of what is commonly made and the shop's own list; without it every
// set that can be built weighs alike.
const Shop = "shop"

// Known is a build that is known to exist.
type Known struct {
	Construction string   `json:"construction"`
	Teeth        []int    `json:"teeth"`
	Weight       *float64 `json:"weight,omitempty"`
}

// ToothCount is the teeth of one member of a build.
type ToothCount struct {
	Member string `json:"member"`
	Count  int    `json:"count"`
}

// Build is a way in which a stage may be made.
type Build struct {
	Construction string       `json:"construction"`
	Teeth        []ToothCount `json:"teeth"`
	Ratio        exact.Number `json:"ratio"`
}

// Candidate is a build with how likely it is.
type Candidate struct {
	Build       Build     `json:"build"`
	Probability float64   `json:"probability"`
	Prior       float64   `json:"prior"`
	InCatalog   bool      `json:"in_catalog"`
	Common      bool      `json:"common"` // commonly made
	Hunting     *string   `json:"hunting,omitempty"`
	TimingMarks *bool     `json:"timing_marks,omitempty"` // must be assembled on its timing marks
	Factors     []float64 `json:"factors"`                // likelihood of each reading here relative to the best candidate
}

// Verdict is all evidence weighed together, and what to measure next.
type Verdict struct {
	State         identify.State          `json:"state"`
	Best          *Candidate              `json:"best,omitempty"`
	Rival         *Candidate              `json:"rival,omitempty"`
	Headline      *identify.Headline      `json:"headline,omitempty"` // what is said first; nothing before the first reading
	Label         *identify.LabelChance   `json:"label,omitempty"`    // the headline's, where one stands
	Labels        []identify.LabelChance  `json:"labels"`
	Candidates    []Candidate             `json:"candidates"`
	Unlisted      identify.Unlisted       `json:"unlisted"`
	Note          *string                 `json:"note,omitempty"`
	TurnsInterval *identify.TurnsInterval `json:"turns_interval,omitempty"`
	Findings      []identify.Finding      `json:"findings"`
	Checks        []identify.Check        `json:"checks"`
	Next          []identify.Plan         `json:"next"`
	Gate          *identify.Gate          `json:"gate,omitempty"`
	Live          *LiveAdvice             `json:"live,omitempty"` // where a live count is among the readings
	Formula       *string                 `json:"formula,omitempty"`
	Weighed       int                     `json:"weighed"`
	FromCatalog   int                     `json:"from_catalog"`
	Prior         identify.Prior          `json:"prior"` // where the weights before any reading come from
}
