/* parts.h - the doors between the parts of a scan pass, in the order of the pass.
 * Each part is the file of its name; data flows from the upper ones to the lower. */
#ifndef UVREK_ENGINE_PARTS_H
#define UVREK_ENGINE_PARTS_H

#include "uvrek/engine.h"

/* scan.c: read every line, debounce it, put what changed into the queue. */
void uvk_scan(struct uvk_engine *engine, struct uvk_port *port);

/* debounce.c: the bits of LINE whose believed state should flip now. A flip that is not
 * accepted is offered again at the next pass. */
uvk_bits uvk_debounce_line(struct uvk_debounce *debounce, uint8_t line, uint8_t senses,
                           uvk_bits closed, uint16_t now, uint8_t window);
void uvk_debounce_accept(struct uvk_debounce *debounce, uint8_t line, uvk_bits bit);

/* queue.c: events in order. Push answers false when there is no room. */
bool uvk_queue_push(struct uvk_queue *queue, struct uvk_event event);
const struct uvk_event *uvk_queue_first(const struct uvk_queue *queue);
void uvk_queue_drop(struct uvk_queue *queue);

/* layers.c: which are on, and what a key means on them. Switching on what is on changes
 * nothing; layer 0 never goes off. */
void uvk_layers_reset(struct uvk_layers *layers);
void uvk_layers_on(struct uvk_layers *layers, uint8_t layer);
void uvk_layers_off(struct uvk_layers *layers, uint8_t layer);
uvk_action uvk_layers_cell(const struct uvk_layers *layers, const struct uvk_image *image,
                           uint8_t key);

/* actions.c: one key goes down or comes up. Down answers false when something else has to
 * reach the host first; ask again with the same event. */
bool uvk_action_down(struct uvk_engine *engine, struct uvk_port *port, uint8_t key);
void uvk_action_up(struct uvk_engine *engine, uint8_t key);

/* reports.c: what the host should know. Send answers true when nothing is left to send. */
void uvk_reports_update(struct uvk_reports *reports, const struct uvk_holds *holds,
                        bool release);
void uvk_reports_wheel(struct uvk_reports *reports, enum uvk_wheel direction);
void uvk_reports_protocol(struct uvk_reports *reports, bool boot);
bool uvk_reports_send(struct uvk_reports *reports, struct uvk_port *port);
uint8_t uvk_reports_write(const struct uvk_reports *reports, enum uvk_report report,
                          uint8_t out[UVK_REPORT_MAX]);

#endif
