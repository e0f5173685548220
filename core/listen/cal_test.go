package listen_test

import (
	"fmt"
	"os"
	"sync"
	"testing"

	"zorvel/core/listen"
	"zorvel/core/listen/drives"
)

func TestCal(t *testing.T) {
	f, _ := os.Create("/tmp/w/lcal.csv")
	defer f.Close()
	var mu sync.Mutex
	var wg sync.WaitGroup
	ch := make(chan int)
	right, tell, called, wrongCalled, cant, cantOK := 0, 0, 0, 0, 0, 0
	for range 2 {
		wg.Go(func() {
			for i := range ch {
				d := drives.Some(uint64(i))
				a, err := listen.Work(d.Question)
				if err != nil {
					fmt.Println(err)
					continue
				}
				mu.Lock()
				ok := len(a.Sources) > 0 && a.Sources[0].Kind == d.Kind && (d.Kind != listen.RingAndPinion || a.Sources[0].Ring == d.Ring) && a.State == listen.Told
				if d.Kind == listen.WheelBearing && ok {
					ok = a.Sources[0].Name == d.Name
				}
				ch, l1, l2, z := 0.0, 0.0, -20.0, ""
				if len(a.Sources) > 0 {
					ch = a.Sources[0].Chance
					l1 = a.Sources[0].Level
					z = a.Sources[0].Name
				}
				if len(a.Sources) > 1 {
					l2 = a.Sources[1].Level
					z += " / " + a.Sources[1].Name
				}
				if d.Tellable {
					tell++
					if ok {
						right++
					}
				} else {
					cant++
					if a.State == listen.Cannot {
						cantOK++
					}
				}
				if a.State == listen.Told && ch > 0.9 {
					called++
					if !ok {
						wrongCalled++
					}
				}
				fmt.Fprintf(f, "%d;%v;%v;%s;%s;%s;%.3f;%.1f;%.1f;%.1f;%s;scale %.3f lag %.1f rpm %v axle %v\n", i, d.Tellable, ok, d, a.State, a.Reason, ch, d.Level, l1, l2, z, a.Scale, a.Lag, len(d.Question.RPM) > 0, d.Question.Vehicle.Axle != nil)
				mu.Unlock()
			}
		})
	}
	for i := range 300 {
		ch <- i
	}
	close(ch)
	wg.Wait()
	fmt.Printf("tellable %d right %d; not tellable %d said so %d; called sure %d wrong %d\n", tell, right, cant, cantOK, called, wrongCalled)
}
