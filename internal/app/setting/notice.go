package setting

import (
	"context"
	"fmt"
	"strings"
	"time"

	"turret/internal/app/access"
	"turret/internal/app/fault"
	"turret/internal/core/calendar"
)

// Notice is a text from the office that everyone sees at the head of each page until a day.
type Notice struct {
	ID    int64
	Text  string // in light Markdown
	Until calendar.Date
	Who   string
	At    time.Time
}

// Notice returns the text that is shown today, nil where there is none.
func (o *Office) Notice(ctx context.Context, today calendar.Date) (*Notice, error) {
	if _, err := access.Permit(ctx, access.Read); err != nil {
		return nil, err
	}
	n, err := o.store.Notice(ctx)
	if err != nil || n == nil || n.Until < today {
		return nil, err
	}
	return n, nil
}

// SaveNotice shows a text up to and with a day; an empty one takes it down. The error is a FieldError where the day has passed or the text
// is too long.
func (o *Office) SaveNotice(ctx context.Context, text string, until, today calendar.Date) error {
	actor, err := access.PermitWhole(ctx, access.Judge)
	if err != nil {
		return err
	}
	text = strings.TrimSpace(text)
	switch {
	case len([]rune(text)) > MaxPanelText:
		return fault.Field("notice", fault.Clip(text, 40), fmt.Sprintf("at most %d characters", MaxPanelText))
	case text != "" && until < today:
		return fault.Field("until", until.String(), "a day that has not passed")
	}
	return o.store.SaveNotice(ctx, Notice{Text: text, Until: until, Who: actor.Name, At: o.now()},
		o.audit.Entry(ctx, "notice", "all", "", fault.Clip(text, 200)))
}
