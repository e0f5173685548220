package identify

import (
	"context"

	"zorvel/api"
	"zorvel/core/identify/bench"
)

// Identify weighs readings without storing anything.
func (s *Room) Identify(ctx context.Context, r api.IdentifyRequestObject) (api.IdentifyResponseObject, error) {
	sp, err := s.index.Space(r.Body.Stage)
	if err != nil {
		return nil, err
	}
	if api.Value(r.Body.Prior) == bench.Shop { // else the bench takes nothing for common
		sh, err := s.index.Shop(ctx)
		if err != nil {
			return nil, err
		}
		if sp, err = s.index.SpaceOf(sh, r.Body.Stage); err != nil {
			return nil, err
		}
	}
	out, err := bench.Answer(ctx, sp, *r.Body)
	if err != nil {
		return nil, err
	}
	return api.Identify200JSONResponse(*out), nil
}

// EchoWords repeats what was understood.
func (s *Room) EchoWords(_ context.Context, r api.EchoWordsRequestObject) (api.EchoWordsResponseObject, error) {
	out, err := bench.Understand(*r.Body)
	if err != nil {
		return nil, err
	}
	return api.EchoWords200JSONResponse(*out), nil
}

// GetKnowledge lists what verdicts rest on.
func (s *Room) GetKnowledge(context.Context, api.GetKnowledgeRequestObject) (api.GetKnowledgeResponseObject, error) {
	out, err := bench.Know()
	if err != nil {
		return nil, err
	}
	return api.GetKnowledge200JSONResponse(*out), nil
}
