/* half.h - one half of a keyboard that has a controller in each; link.h carries what it says.
 *
 * 1. Both halves run the same engine with the same image. The main one works as ever, but for
 * the scan: lines of the other half come over the link. The other one only answers.
 * 2. Each millisecond the main half makes a question, and the port sends it. The other half
 * scans when it is asked, and answers at once: so its contacts are as young as they can be.
 * 3. When nothing has come for UVK_HALF_GONE_MS, the keys of the other half are up; for twice
 * as long, when something comes, but nothing that can be believed.
 * 4. A knob's place on the other half is a count that wraps. After a start of either half the
 *    first count that arrives is where it stands, and no step. Keys that are down when the
 * halves first meet do nothing until they have come up, as those of one's own half at the
 * start.
 * 5. Both halves say which image they run. When those differ, nothing of the other half is
 * taken.
 * 6. A port with one wire hands over no byte that it has sent itself.
 * 7. When both see a host, one of them gives way as soon as it hears the other: the second half
 * of the board, unless it is the one that wins.
 * 8. A port of such a keyboard has two functions more, see port.h.
 */
#ifndef UVREK_HALF_H
#define UVREK_HALF_H

#include "uvrek/engine.h"
#include "uvrek/journal.h"
#include "uvrek/link.h"

#if UVK_USE_LINK

#ifdef __cplusplus
extern "C" {
#endif

/* What makes a half the main one. */
enum uvk_half_role {
    UVK_HALF_WITH_HOST,  /* it is the half it was told to be, and leads when it sees a host */
    UVK_HALF_HOST_FIRST, /* it is the first half when it sees a host, and leads; else the other
                          */
    UVK_HALF_HOST_SECOND /* it is the second half when it sees a host, and leads */
};

struct uvk_half_setup {
    bool second; /* which half it has been told to be; of no account with the last two roles */
    bool second_wins; /* where both see a host; else the first one does */
    enum uvk_half_role role;
    uint16_t second_knobs; /* bit N: knob N of the image is on the second half */
    uint8_t answer_ms;     /* the next question waits so long for an answer, see link.h */
};

/* The engine has been started, and is one of two. UVK_NO_SPACE: a half has more lines and knobs
 * than a frame can tell; then nothing is changed. */
enum uvk_status uvk_half_start(struct uvk_engine *engine, const struct uvk_half_setup *setup);

/* Once a millisecond, before the pass, at NOW_US as the pass has it. HOST: a host has set this
 * half up. If this half leads, the other one is asked; if not, there is nothing to pass. */
void uvk_half_tick(struct uvk_engine *engine, struct uvk_port *port, uint32_t now_us,
                   bool host);

/* Take what has come from the other half, and answer. As often as the port can, and not from an
 * interrupt: a question has this half's lines scanned. */
void uvk_half_hear(struct uvk_engine *engine, struct uvk_port *port);

/* Is this the main half, and which of the board is it? */
bool uvk_half_leads(const struct uvk_engine *engine);
bool uvk_half_is_second(const struct uvk_engine *engine);

/* What those are made of: lead from now on, or not any more; a millisecond has passed; the next
 * question into OUT, and its length; a byte has come, and if it was the last one of a question,
 * the answer is in OUT, and its length returned, else 0. */
void uvk_half_lead(struct uvk_engine *engine, bool leads);
void uvk_half_wait(struct uvk_engine *engine);
uint8_t uvk_half_ask(struct uvk_engine *engine, uint8_t lit, uint8_t out[UVK_FRAME_MAX]);
uint8_t uvk_half_take(struct uvk_engine *engine, struct uvk_port *port, uint8_t byte,
                      uint8_t out[UVK_FRAME_MAX]);

#if UVK_USE_JOURNAL
/* Is this the second half? TOLD, of the firmware it is in: '1' or '2', which is kept in
 * JOURNAL; any other: what is kept there, and if nothing is, it is the first. */
bool uvk_half_stored(struct uvk_journal *journal, struct uvk_port *port, char told);
#endif

/* What the other one knows of the main half: what its lamps are to show (lights.h), and the
 * layer on top. */
uint8_t uvk_half_lamps(const struct uvk_engine *engine);
uint8_t uvk_half_layer(const struct uvk_engine *engine);

enum uvk_half_trouble uvk_half_trouble(const struct uvk_engine *engine);

/* All that this half knows of the two, for whoever asks it over USB: docs/link.md has the
 * bytes. ERASED: banks of its memory, over its life. */
void uvk_half_tell(const struct uvk_engine *engine, uint16_t erased,
                   uint8_t out[UVK_HALF_TOLD]);

/* Is LINE scanned here, KNOB read here? */
bool uvk_half_has_line(const struct uvk_engine *engine, uint8_t line);
bool uvk_half_has_knob(const struct uvk_engine *engine, uint8_t knob);

#ifdef __cplusplus
}
#endif

#endif

#endif
