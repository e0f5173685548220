package main

import (
	"context"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"

	"github.com/spf13/cobra"

	"zorvel/internal/cluster"
	"zorvel/internal/demo"
	"zorvel/internal/server"
	"zorvel/internal/store"
	"zorvel/web"
)

// clusterDir is where a cluster's data are: beside the program, or, for root, where the
// account that the nodes run as can reach them.
func clusterDir() string {
	if os.Geteuid() == 0 {
		return "/var/tmp/zorvel-cluster"
	}
	return filepath.Join(".local", "cluster")
}

func clusterCommand() *cobra.Command {
	var o cluster.Options
	var reset, empty, stop bool
	c := &cobra.Command{
		Use:   "cluster",
		Short: "Run a cluster on this machine: three databases, two servers, one address",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			if stop {
				return cluster.Stopped(c.Context(), o.Dir)
			}
			if reset {
				if err := os.RemoveAll(o.Dir); err != nil {
					return err
				}
			}
			var err error
			if o.Zorvel, err = os.Executable(); err != nil {
				return err
			}
			return runCluster(c.Context(), o, empty)
		},
	}
	c.Flags().StringVar(&o.Dir, "dir", clusterDir(), "directory for its data")
	c.Flags().IntVar(&o.Port, "port", 8090, "port where people come in; the next ones are taken too")
	c.Flags().BoolVar(&reset, "reset", false, "start over")
	c.Flags().BoolVar(&empty, "empty", false, "start without demo data")
	c.Flags().BoolVar(&stop, "stop", false, "end the one that runs")
	return c
}

func runCluster(ctx context.Context, o cluster.Options, empty bool) (err error) {
	cl, err := cluster.Prepare(o)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, cl.Stop()) }()
	if err := cl.Start(ctx); err != nil {
		return err
	}
	if !empty {
		if err := fillCluster(ctx, cl); err != nil {
			return err
		}
	}
	if err := cl.Serve(ctx); err != nil {
		return err
	}
	announce(cl.Address, "", empty)
	for _, n := range cl.Nodes {
		fmt.Printf("  %-8s %s\n", n.Name, n.Address())
	}
	for _, s := range cl.Servers {
		fmt.Printf("  %-8s %s\n", s.Name, s.Address)
	}
	<-ctx.Done()
	return nil
}

// fillCluster puts the demo's shop in, once.
func fillCluster(ctx context.Context, cl *cluster.Cluster) error {
	log, err := logger("warn")
	if err != nil {
		return err
	}
	st, err := store.Open(ctx, cl.DSN(cl.Nodes[0].Address()))
	if err != nil {
		return err
	}
	defer func() { _ = st.Close() }()
	if err := st.Migrate(ctx); err != nil {
		return err
	}
	if there, err := st.HasOwner(ctx); err != nil || there {
		return err
	}
	pages, err := fs.Sub(web.Dist, "dist")
	if err != nil {
		return err
	}
	srv, err := server.New(server.Config{Store: st, Log: log, Web: pages})
	if err != nil {
		return err
	}
	defer srv.Close()
	return demo.Load(ctx, st, srv)
}

// nodeCommand answers a proxy for one node of a cluster.
func nodeCommand() *cobra.Command {
	var dsn, addr string
	c := &cobra.Command{
		Use:   "node",
		Short: "Tell a proxy whether a Galera node takes work: 200, or 503 with its state",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			log, err := logger("info")
			if err != nil {
				return err
			}
			h, err := cluster.Watch(dsn)
			if err != nil {
				return err
			}
			if err := servePlain(c.Context(), addr, h, log); err != nil {
				return err
			}
			<-c.Context().Done()
			return nil
		},
	}
	c.Flags().StringVar(&dsn, "dsn", env("ZORVEL_DSN", ""), "the node, as user:password@tcp(host:port)/ (ZORVEL_DSN)")
	c.Flags().StringVar(&addr, "addr", "127.0.0.1:9200", "address to answer on")
	return c
}
