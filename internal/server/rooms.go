package server

import (
	"log/slog"
	"maps"

	"github.com/getkin/kin-openapi/openapi3"

	"zorvel/api"
	"zorvel/internal/exchange"
	"zorvel/internal/index"
	"zorvel/internal/instruments"
	"zorvel/internal/programmer"
	"zorvel/internal/record"
	"zorvel/internal/rooms/cards"
	"zorvel/internal/rooms/catalog"
	"zorvel/internal/rooms/changegear"
	"zorvel/internal/rooms/decisions"
	"zorvel/internal/rooms/driveline"
	"zorvel/internal/rooms/experience"
	"zorvel/internal/rooms/find"
	"zorvel/internal/rooms/findfault"
	"zorvel/internal/rooms/gearcase"
	"zorvel/internal/rooms/identify"
	"zorvel/internal/rooms/jobs"
	"zorvel/internal/rooms/live"
	"zorvel/internal/rooms/parts"
	"zorvel/internal/rooms/phones"
	"zorvel/internal/rooms/photos"
	"zorvel/internal/rooms/practice"
	"zorvel/internal/rooms/propeller"
	"zorvel/internal/rooms/recordings"
	"zorvel/internal/rooms/regear"
	"zorvel/internal/rooms/setup"
	"zorvel/internal/rooms/speedo"
	"zorvel/internal/rooms/units"
	"zorvel/internal/signin"
	"zorvel/internal/store"
)

// Rooms under names of their own, so that one struct can embed them all.
type (
	peopleRoom     = signin.Room
	exchangeRoom   = exchange.Room
	identifyRoom   = identify.Room
	drivelineRoom  = driveline.Room
	catalogRoom    = catalog.Room
	changegearRoom = changegear.Room
	partsRoom      = parts.Room
	unitsRoom      = units.Room
	findRoom       = find.Room
	cardsRoom      = cards.Room
	jobsRoom       = jobs.Room
	phonesRoom     = phones.Room
	photosRoom     = photos.Room
	setupRoom      = setup.Room
	gearcaseRoom   = gearcase.Room
	propellerRoom  = propeller.Room
	findfaultRoom  = findfault.Room
	regearRoom     = regear.Room
	speedoRoom     = speedo.Room
	decisionsRoom  = decisions.Room
	experienceRoom = experience.Room
	liveRoom       = live.Room
	recordingsRoom = recordings.Room
	practiceRoom   = practice.Room
)

// rooms answer the operations of the contract, each its own; what none of them
// answers doesn't compile.
type rooms struct {
	*peopleRoom
	*exchangeRoom
	*identifyRoom
	*drivelineRoom
	*catalogRoom
	*changegearRoom
	*partsRoom
	*unitsRoom
	*findRoom
	*cardsRoom
	*jobsRoom
	*phonesRoom
	*photosRoom
	*setupRoom
	*gearcaseRoom
	*propellerRoom
	*findfaultRoom
	*regearRoom
	*speedoRoom
	*decisionsRoom
	*experienceRoom
	*liveRoom
	*recordingsRoom
	*practiceRoom
}

var _ api.StrictServerInterface = rooms{}

// open opens the rooms, those first that others ask.
func open(st *store.Store, ix *index.Index, people *signin.Room, schemas openapi3.Schemas, device *programmer.Client,
	boat *instruments.Client, shafts string, log *slog.Logger) rooms {
	r := rooms{phonesRoom: &phones.Room{}, peopleRoom: people, identifyRoom: identify.New(ix),
		drivelineRoom: &driveline.Room{}, catalogRoom: catalog.New(st, ix),
		changegearRoom: changegear.New(ix), partsRoom: parts.New(st), unitsRoom: units.New(st, ix, log), setupRoom: setup.New(ix),
		gearcaseRoom: gearcase.New(ix), propellerRoom: propeller.New(boat), findfaultRoom: findfault.New(st,
			ix), regearRoom: regear.New(ix),
		speedoRoom: speedo.New(st, ix, device, log), liveRoom: live.New(st, ix, shafts, log),
		recordingsRoom: recordings.New(st), practiceRoom: practice.New(st, ix)}
	r.cardsRoom = cards.New(st, ix, r.unitsRoom)
	r.photosRoom = photos.New(st, r.unitsRoom, r.cardsRoom)
	r.decisionsRoom = decisions.New(st, ix, r.records())
	r.jobsRoom = jobs.New(st, ix, r.unitsRoom, r.cardsRoom, r.decisionsRoom)
	r.findRoom = find.New(st, ix, r.unitsRoom, r.jobsRoom, log)
	r.experienceRoom = experience.New(st, ix, r.findfaultRoom)
	r.exchangeRoom = exchange.New(st, r.unitsRoom, schemas, log)
	return r
}

// records are the kinds of record of all rooms.
func (r *rooms) records() map[string]record.Kind {
	kinds := map[string]record.Kind{}
	for _, room := range []interface{ Records() map[string]record.Kind }{
		r.cardsRoom, r.changegearRoom, r.findfaultRoom, r.gearcaseRoom, r.propellerRoom, r.regearRoom, r.setupRoom, r.speedoRoom,
	} {
		maps.Copy(kinds, room.Records())
	}
	return kinds
}
