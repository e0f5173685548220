// Command growth measures how the server does as a shop grows: units in thousands,
// readings up to a million. Beside it, in the same run and on the same database, a
// bare Echo handler sends the same statements and encodes an answer of the same
// length; the ratio is what the application costs on top of its database. It
// leaves nothing behind.
//
//	growth [flags]
package main

import (
	"context"
	"flag"
	"fmt"
	"log"
	"os"
	"runtime/pprof"

	"zorvel/internal/localdb"
	"zorvel/internal/store"
)

func main() {
	log.SetFlags(0)
	requests := flag.Int("requests", 400, "of each kind and size")
	hands := flag.Int("hands", 4, "requests at once")
	most := flag.Int("units", 10_000, "units of the largest shop")
	profile := flag.String("cpuprofile", "", "file for a profile")
	flag.Parse()
	if *profile != "" {
		f, err := os.Create(*profile)
		if err != nil {
			log.Fatal(err)
		}
		if err := pprof.StartCPUProfile(f); err != nil {
			log.Fatal(err)
		}
		defer func() {
			pprof.StopCPUProfile()
			_ = f.Close()
		}()
	}
	dir, err := os.MkdirTemp("", "growth-")
	if err != nil {
		log.Fatal(err)
	}
	err = run(context.Background(), dir, *requests, *hands, *most)
	if e := os.RemoveAll(dir); err == nil {
		err = e
	}
	if err != nil {
		log.Fatal(err)
	}
}

// sizes of a shop: units, and readings over all of them.
var sizes = []struct{ units, readings int }{{1_000, 100_000}, {10_000, 1_000_000}}

func run(ctx context.Context, dir string, requests, hands, most int) error {
	db, err := localdb.Start(ctx, dir, false)
	if err != nil {
		return err
	}
	defer func() { _ = db.Stop() }()
	fmt.Printf("%d requests of each kind, %d at once\n\n%-34s %8s %9s | %9s %9s %9s | %9s %9s | %6s\n", requests, hands,
		"request", "units", "readings", "per s", "p50", "p99", "bare /s", "bare p99", "ratio")
	for i, size := range sizes {
		if size.units > most {
			continue
		}
		dsn, err := db.Create(ctx, fmt.Sprintf("zorvel_growth_%d", i))
		if err != nil {
			return err
		}
		con, err := store.Connector(dsn)
		if err != nil {
			return err
		}
		rec := &recorder{Connector: con}
		st, err := store.OpenOn(ctx, rec)
		if err != nil {
			return err
		}
		err = measure(ctx, st, rec, size.units, size.readings, requests, hands)
		_ = st.Close()
		if err != nil {
			return err
		}
	}
	return nil
}
