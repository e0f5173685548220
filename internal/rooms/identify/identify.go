package identify

import (
	"context"

	"zorvel/api"
	"zorvel/core/identify/bench"
)

// Identify weighs readings without storing anything.
func (s *Room) Identify(ctx context.Context, r api.IdentifyRequestObject) (api.IdentifyResponseObject, error) {
	sp, err := s.index.SpaceAsked(ctx, r.Body.Stage, api.Value(r.Body.Prior) == bench.Shop)
	if err != nil {
		return nil, err
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
