package main

import (
	"context"
	"errors"
	"fmt"
	"io/fs"
	"log/slog"
	"net"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"zorvel/internal/demo"
	"zorvel/internal/httpd"
	"zorvel/internal/instruments"
	"zorvel/internal/localdb"
	"zorvel/internal/programmer"
	"zorvel/internal/sensors"
	"zorvel/internal/server"
	"zorvel/internal/store"
	"zorvel/web"
)

func logger(level string) (*slog.Logger, error) {
	var l slog.Level
	if err := l.UnmarshalText([]byte(level)); err != nil {
		return nil, fmt.Errorf("log level %q: choose debug, info, warn or error", level)
	}
	return slog.New(slog.NewTextHandler(os.Stderr, &slog.HandlerOptions{Level: l})), nil
}

func env(name, fallback string) string {
	if v := os.Getenv(name); v != "" {
		return v
	}
	return fallback
}

func serveCommand() *cobra.Command {
	var dsn, addr, level, device, boat, shafts, metrics string
	var secure bool
	var rate float64
	var ahead time.Duration
	var proxies, hosts []string
	var https secureFlags
	c := &cobra.Command{
		Use:   "serve",
		Short: "Serve the application on a MariaDB of yours",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			log, err := logger(level)
			if err != nil {
				return err
			}
			if dsn == "" {
				return errors.New("no database: give --dsn or ZORVEL_DSN, for example user:password@tcp(127.0.0.1:3306)/zorvel")
			}
			cfg := server.Config{Log: log, SecureCookies: secure, Programmer: device, Instruments: boat,
				Sensors: shafts, AnonymousRate: rate, Hosts: hosts}
			for _, p := range proxies {
				_, n, err := net.ParseCIDR(p)
				if err != nil {
					return fmt.Errorf("--trusted-proxies %q is no network, for example 10.0.0.0/24", p)
				}
				cfg.Proxies = append(cfg.Proxies, n)
			}
			shift := func(st *store.Store, _ *server.Server) error {
				st.ShiftClock(ahead)
				return nil
			}
			secured, atPlain, err := https.prepare(&cfg, addr)
			if err != nil {
				return err
			}
			if atPlain != nil {
				if err := servePlain(c.Context(), addr, atPlain, log); err != nil {
					return err
				}
			}
			return serve(c.Context(), cfg, dsn, secured, metrics, shift, func(address string) {
				log.Info("serving", "address", address, "https", cfg.TLS != nil)
			})
		},
	}
	c.Flags().StringVar(&dsn, "dsn", env("ZORVEL_DSN", ""), "database, as user:password@tcp(host:port)/name (ZORVEL_DSN)")
	c.Flags().StringVar(&addr, "addr", env("ZORVEL_ADDR", "127.0.0.1:8080"), "address to listen on (ZORVEL_ADDR)")
	c.Flags().StringVar(&level, "log", env("ZORVEL_LOG", "info"), "log level: debug, info, warn, error (ZORVEL_LOG)")
	c.Flags().StringVar(&metrics, "metrics", env("ZORVEL_METRICS", ""),
		"address on which a collector of your own reads /metrics, for example 127.0.0.1:9464; none if empty (ZORVEL_METRICS)")
	c.Flags().StringVar(&boat, "instruments", env("ZORVEL_INSTRUMENTS", ""), "a boat's instruments, NMEA 0183 over TCP, as host:port (ZORVEL_INSTRUMENTS)")
	c.Flags().StringVar(&shafts, "sensors", env("ZORVEL_SENSORS", ""),
		"shaft sensors for live counts, as host:port (ZORVEL_SENSORS)")
	c.Flags().StringVar(&device, "programmer", env("ZORVEL_PROGRAMMER", ""), "calibration programmer, as host:port (ZORVEL_PROGRAMMER)")
	c.Flags().StringSliceVar(&proxies, "trusted-proxies", words(env("ZORVEL_TRUSTED_PROXIES", "")), "networks of your own proxies, for example 10.0.0.0/24: their X-Forwarded-For names the caller (ZORVEL_TRUSTED_PROXIES)")
	c.Flags().StringSliceVar(&hosts, "host", words(env("ZORVEL_HOST", "")), "names that the server answers to, for example gears.example.net; requests for others are refused (ZORVEL_HOST)")
	c.Flags().Float64Var(&rate, "anonymous-rate", number(env("ZORVEL_ANONYMOUS_RATE", "30")), "calculations a second that one address may ask for without an account; 0 is no bound (ZORVEL_ANONYMOUS_RATE)")
	c.Flags().DurationVar(&ahead, "clock-ahead", 0, "take it to be so much later, to try servers whose clocks differ")
	_ = c.Flags().MarkHidden("clock-ahead")
	https.add(c)
	c.Flags().BoolVar(&secure, "secure-cookies", env("ZORVEL_SECURE_COOKIES", "") == "true", "set where people come over HTTPS (ZORVEL_SECURE_COOKIES=true)")
	return c
}

// words are what stands between commas.
func words(s string) []string {
	return strings.FieldsFunc(s, func(r rune) bool { return r == ',' || r == ' ' })
}

// number reads a bound; what can't be read is the usual one.
func number(s string) float64 {
	if n, err := strconv.ParseFloat(s, 64); err == nil && n >= 0 {
		return n
	}
	return 30
}

// serve opens and migrates the database and serves until ctx is done.
func serve(ctx context.Context, cfg server.Config, dsn, addr, metrics string,
	prepare func(*store.Store, *server.Server) error, ready func(string)) error {
	st, err := store.Open(ctx, dsn)
	if err != nil {
		return err
	}
	defer func() { _ = st.Close() }()
	if err := st.Migrate(ctx); err != nil {
		return err
	}
	if cfg.Web, err = fs.Sub(web.Dist, "dist"); err != nil {
		return err
	}
	cfg.Store = st
	if metrics != "" {
		cfg.Metrics = httpd.NewMetrics(st.DB)
		if err := servePlain(ctx, metrics, cfg.Metrics.Handler(), cfg.Log); err != nil {
			return err
		}
	}
	srv, err := server.New(cfg)
	if err != nil {
		return err
	}
	if prepare != nil {
		if err := prepare(st, srv); err != nil {
			return err
		}
	}
	return srv.Serve(ctx, addr, ready)
}

func migrateCommand() *cobra.Command {
	return onDatabase("migrate", "Bring a database's schema up to this program's", func(c *cobra.Command, st *store.Store) error {
		return st.Migrate(c.Context())
	})
}

// onDatabase is a command that does one thing to a database.
func onDatabase(use, short string, do func(*cobra.Command, *store.Store) error) *cobra.Command {
	c := onDatabaseWith(use, short, func(c *cobra.Command, st *store.Store, _ string) error { return do(c, st) })
	c.Args = cobra.NoArgs
	return c
}

// onDatabaseWith is a command on a database and a file.
func onDatabaseWith(use, short string, do func(c *cobra.Command, st *store.Store, file string) error) *cobra.Command {
	var dsn string
	c := &cobra.Command{
		Use:   use,
		Short: short,
		Args:  cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			st, err := store.Open(c.Context(), dsn)
			if err != nil {
				return err
			}
			defer func() { _ = st.Close() }()
			file := ""
			if len(args) > 0 {
				file = args[0]
			}
			return do(c, st, file)
		},
	}
	c.Flags().StringVar(&dsn, "dsn", env("ZORVEL_DSN", ""), "database, as user:password@tcp(host:port)/name (ZORVEL_DSN)")
	return c
}

// announce says where the demo is, and how to get in.
func announce(address, plain string, empty bool) {
	if plain == "" {
		fmt.Printf("\nZorvel is ready:  http://%s\n", address)
	} else {
		fmt.Printf("\nZorvel is ready:  https://%s\nTrust it first at  http://%s/trust\n", address, plain)
	}
	if empty {
		fmt.Println("Empty database: the first page leads through creating the owner.")
	} else {
		fmt.Println("Count at once without an account, or sign in (the page offers these too):")
		for _, a := range demo.Accounts() {
			fmt.Printf("  %-6s %-20s %s\n", a.SignIn, a.Password, a.Role)
		}
	}
	fmt.Println("Ctrl-C stops it; the data stays for the next start.")
}

// demoOptions are the flags of the demo.
type demoOptions struct {
	dir, level, host     string
	port, securePort     int
	reset, empty, secure bool
}

func demoCommand() *cobra.Command {
	var o demoOptions
	c := &cobra.Command{
		Use:   "demo",
		Short: "Start a private MariaDB and the application with the demo shop",
		Args:  cobra.NoArgs,
		RunE:  func(c *cobra.Command, _ []string) error { return o.run(c.Context()) },
	}
	c.Flags().StringVar(&o.dir, "dir", ".local", "directory for the demo's data")
	c.Flags().IntVar(&o.port, "port", 8080, "port to serve on; another free one if taken")
	c.Flags().StringVar(&o.host, "host", "127.0.0.1",
		"address to listen on; 0.0.0.0 lets phones in, and anyone on the network with the demo's passwords")
	c.Flags().BoolVar(&o.secure, "https", false, "serve over HTTPS with an authority of the demo's own")
	c.Flags().IntVar(&o.securePort, "https-port", 8443, "port for HTTPS; another free one if taken")
	c.Flags().BoolVar(&o.reset, "reset", false, "start over with fresh demo data")
	c.Flags().BoolVar(&o.empty, "empty", false, "start without demo data, as on a first day")
	c.Flags().StringVar(&o.level, "log", env("ZORVEL_LOG", "warn"), "log level: debug, info, warn, error")
	return c
}

// run starts the database and the simulated devices, and serves until ctx is done.
func (o *demoOptions) run(ctx context.Context) error {
	log, err := logger(o.level)
	if err != nil {
		return err
	}
	db, err := localdb.Start(ctx, filepath.Join(o.dir, "mariadb"), o.reset)
	if err != nil {
		return err
	}
	defer func() {
		if err := db.Stop(); err != nil {
			log.Warn("stopping MariaDB", "error", err)
		}
	}()
	standIn, err := programmer.Start("127.0.0.1:0", 16000)
	if err != nil {
		return fmt.Errorf("starting the simulated programmer: %w", err)
	}
	defer func() { _ = standIn.Close() }()
	boat, err := instruments.Start("127.0.0.1:0", instruments.Skiff())
	if err != nil {
		return fmt.Errorf("starting the simulated instruments: %w", err)
	}
	defer func() { _ = boat.Close() }()
	shafts, err := sensors.Start("127.0.0.1:0", sensors.Van())
	if err != nil {
		return fmt.Errorf("starting the simulated shaft sensors: %w", err)
	}
	defer func() { _ = shafts.Close() }()
	cfg := server.Config{Log: log, Programmer: standIn.Addr(), Instruments: boat.Addr(), Sensors: shafts.Addr()}
	var prepare func(*store.Store, *server.Server) error
	if !o.empty {
		cfg.DemoAccounts = demo.Accounts()
		prepare = func(st *store.Store, srv *server.Server) error { return demo.Load(ctx, st, srv) }
	}
	dsn, err := o.database(ctx, db)
	if err != nil {
		return err
	}
	plain, taken, err := pickAddress(o.host, o.port)
	if err != nil {
		return err
	}
	addr, err := o.listenAt(ctx, &cfg, plain)
	if err != nil {
		return err
	}
	if addr == plain {
		plain = ""
	}
	return serve(ctx, cfg, dsn, addr, "", prepare, func(address string) {
		if taken {
			fmt.Printf("Port %d is taken by another program; using another.\n", o.port)
		}
		announce(address, plain, o.empty)
	})
}

// database is the demo shop's, or an empty one; a shop that an earlier start was cut off
// in while it filled it is made anew.
func (o *demoOptions) database(ctx context.Context, db *localdb.Server) (string, error) {
	if o.empty {
		return db.Create(ctx, "zorvel_empty")
	}
	dsn, err := db.Create(ctx, "zorvel")
	if err != nil {
		return "", err
	}
	whole, err := demo.IsWhole(ctx, dsn)
	if err != nil || whole {
		return dsn, err
	}
	return db.Recreate(ctx, "zorvel")
}

// listenAt is where the application listens: at the plain address, or at the secure one
// to which the plain address then leads.
func (o *demoOptions) listenAt(ctx context.Context, cfg *server.Config, plain string) (string, error) {
	if !o.secure {
		return plain, nil
	}
	addr, _, err := pickAddress(o.host, o.securePort)
	if err != nil {
		return "", err
	}
	f := secureFlags{on: true, addr: addr, dir: filepath.Join(o.dir, "https")}
	_, atPlain, err := f.prepare(cfg, plain)
	if err != nil {
		return "", err
	}
	return addr, servePlain(ctx, plain, atPlain, cfg.Log)
}

func programmerCommand() *cobra.Command {
	var addr string
	var pulses float64
	c := &cobra.Command{
		Use:   "programmer",
		Short: "Run the simulated calibration programmer by itself",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			s, err := programmer.Start(addr, pulses)
			if err != nil {
				return err
			}
			fmt.Printf("Simulated programmer at %s, holding %v pulses per km. Ctrl-C stops it.\n", s.Addr(), pulses)
			<-c.Context().Done()
			return s.Close()
		},
	}
	c.Flags().StringVar(&addr, "addr", "127.0.0.1:7031", "address to listen on")
	c.Flags().Float64Var(&pulses, "pulses", 16000, "calibration that it begins with, pulses per km")
	return c
}

func instrumentsCommand() *cobra.Command {
	var addr string
	c := &cobra.Command{
		Use:   "instruments",
		Short: "Run the simulated instruments of a boat by themselves (NMEA 0183 over TCP)",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			s, err := instruments.Start(addr, instruments.Skiff())
			if err != nil {
				return err
			}
			fmt.Printf("Simulated instruments at %s. Ctrl-C stops them.\n", s.Addr())
			<-c.Context().Done()
			return s.Close()
		},
	}
	c.Flags().StringVar(&addr, "addr", "127.0.0.1:10110", "address to listen on")
	return c
}

// pickAddress returns the wanted port, or a free one if it is taken.
func pickAddress(host string, port int) (addr string, taken bool, err error) {
	l, err := net.Listen("tcp", net.JoinHostPort(host, strconv.Itoa(port)))
	if err != nil {
		if l, err = net.Listen("tcp", net.JoinHostPort(host, "0")); err != nil {
			return "", false, err
		}
		taken = port != 0
	}
	addr = l.Addr().String()
	// Closing a listener that took no connection frees the port at once.
	if err := l.Close(); err != nil {
		return "", false, err
	}
	time.Sleep(10 * time.Millisecond)
	return addr, taken, nil
}

func sensorsCommand() *cobra.Command {
	var addr string
	turning := sensors.Van()
	c := &cobra.Command{
		Use:   "sensors",
		Short: "Run the simulated shaft sensors at an axle that a simulated person turns (docs/sensors.md)",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			if !(turning.Ratio > 0.1 && turning.Ratio < 50 && turning.Speed > 0.01 && turning.Speed <= 20 &&
				turning.Turns > 0 && turning.InMarks > 0 && turning.OutMarks > 0) {
				return errors.New("the ratio is 0.1 to 50, the speed up to 20 turns a second, and each shaft has a mark or more")
			}
			s, err := sensors.Start(addr, turning)
			if err != nil {
				return err
			}
			fmt.Printf("Simulated shaft sensors at %s. Ctrl-C stops them.\n", s.Addr())
			<-c.Context().Done()
			return s.Close()
		},
	}
	f := c.Flags()
	f.StringVar(&addr, "addr", "127.0.0.1:10111", "address to listen on")
	f.Float64Var(&turning.Ratio, "ratio", turning.Ratio, "ratio of the axle")
	f.StringVar((*string)(&turning.Wheels), "wheels", string(turning.Wheels),
		"both, right_held, right_creeps, or part (one output)")
	f.Float64Var(&turning.Turns, "turns", turning.Turns, "turns of the output before a pause")
	f.Float64Var(&turning.Speed, "speed", turning.Speed, "turns of the output a second")
	f.IntVar(&turning.InMarks, "shaft-marks", turning.InMarks, "marks a turn on the driveshaft")
	f.IntVar(&turning.OutMarks, "wheel-marks", turning.OutMarks, "marks a turn on each wheel")
	f.BoolVar(&turning.Directed, "direction", turning.Directed, "the sensors tell the direction")
	f.BoolVar(&turning.Back, "back", turning.Back, "once in a while the person turns back")
	f.Float64Var(&turning.Missed, "missed", turning.Missed, "share of marks that a sensor misses")
	f.Float64Var(&turning.Doubled, "doubled", turning.Doubled, "share of marks that a sensor sees twice")
	f.Float64Var(&turning.Jitter, "jitter", turning.Jitter, "how early or late the sensor sees a mark, in seconds")
	f.StringVar((*string)(&turning.Dead), "dead", "", "a shaft whose sensor dies: shaft, left or right")
	f.Float64Var(&turning.DeadFrom, "dead-from", 0.3, "from this share of a turning on")
	f.Float64Var(&turning.DeadTo, "dead-to", 0.6, "up to this share")
	f.BoolVar(&turning.SwapChannels, "swapped", false, "the channels of driveshaft and left wheel are swapped")
	return c
}
