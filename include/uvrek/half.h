/* half.h - one half of a keyboard that has a controller in each; link.h carries what it says.
 *
 * 1. Both halves run the same engine with the same image. The main one works as ever, but for
 * the scan: lines of the other half come over the link. The other one only answers.
 * 2. Each millisecond the main half makes a question, and the port sends it. The other half
 * scans when it is asked, and answers at once: so its contacts are as young as they can be.
 * 3. When nothing has come for UVK_HALF_GONE_MS, the keys of the other half are up.
 * 4. A knob's place on the other half is a count that wraps. After a start of either half the
 *    first count that arrives is where it stands, and no step. Keys that are down when the
 * halves first meet do nothing until they have come up, as those of one's own half at the
 * start.
 * 5. Both halves say which image they run. When those differ, nothing of the other half is
 * taken.
 * 6. A port with one wire hands over no byte that it has sent itself.
 * 7. When both think that they are the main one, the second half of the board gives way.
 */
#ifndef UVREK_HALF_H
#define UVREK_HALF_H

#include "uvrek/engine.h"
#include "uvrek/link.h"

#if UVK_USE_LINK

#ifdef __cplusplus
extern "C" {
#endif

/* Milliseconds: an answer that has not come by then does not come. With the usual debounce
 * time, keys of a half that is gone are up within 30 ms. */
#define UVK_HALF_GONE_MS 24u

/* What is wrong between the halves, as far as this one knows. */
enum uvk_half_trouble {
    UVK_HALF_WELL,
    UVK_HALF_ALONE, /* nothing comes: cable out, or crossed, or the other half is off */
    UVK_HALF_UNINTELLIGIBLE, /* bytes come, and no frames: another speed, or a bad wire */
    UVK_HALF_OTHER_IMAGE,    /* the other half runs another firmware */
    UVK_HALF_SAME_HALF       /* both halves have been told that they are the same one */
};

/* What this half is: the SECOND one of the board or the first; bit N of KNOBS is set where knob
 * N is its own. The engine has been started. UVK_NO_SPACE: a half has more lines and knobs than
 * a frame can tell; then nothing is changed. */
enum uvk_status uvk_half_start(struct uvk_engine *engine, bool second, uint16_t knobs);

/* It is the main half from now on, or it is not any more. */
void uvk_half_lead(struct uvk_engine *engine, bool leads);
bool uvk_half_leads(const struct uvk_engine *engine);

/* Of the main half, once a millisecond and before the pass: the next question into OUT; returns
 * its length. LAMPS as uvk_port_lamps. */
uint8_t uvk_half_ask(struct uvk_engine *engine, uint8_t lamps, uint8_t out[UVK_FRAME_MAX]);

/* A byte has come from the other half. If it was the last one of a question, the answer is put
 * into OUT, and its length returned; else 0. Scans this half's lines, so not for an interrupt.
 */
uint8_t uvk_half_take(struct uvk_engine *engine, struct uvk_port *port, uint8_t byte,
                      uint8_t out[UVK_FRAME_MAX]);

/* What the other one knows of the main half: what its lamps and lights are to show. */
uint8_t uvk_half_lamps(const struct uvk_engine *engine);
uint8_t uvk_half_layer(const struct uvk_engine *engine);

enum uvk_half_trouble uvk_half_trouble(const struct uvk_engine *engine);

/* Is LINE scanned here? */
bool uvk_half_has_line(const struct uvk_engine *engine, uint8_t line);

#ifdef __cplusplus
}
#endif

#endif

#endif
