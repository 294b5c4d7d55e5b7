/* joined.h - the other half of a keyboard in the simulator, and the cable between the two. */
#ifndef UVREK_BENCH_JOINED_H
#define UVREK_BENCH_JOINED_H

#include "uvrek/problem.h"
#include "uvrek/program.h"

#include "uvrek/half.h"
#include "uvrek/port_linux.h"

struct joined;

/* The main half of a board with a link has ENGINE, which has been started with the IMAGE, and
 * PORT; the other half reads the same wires. NULL: *ERROR. */
struct joined *joined_new(const struct uvk_program *program, struct uvk_engine *engine,
                          struct uvk_port *port, const uint8_t *image, uint16_t size,
                          GError **error);
void joined_free(struct joined *joined);

/* The main half has started again. */
void joined_restarted(struct joined *joined);

/* A millisecond has begun, at NOW microseconds, before the main half's pass. */
void joined_tick(struct joined *joined, uint64_t now);

/* When the next frame has arrived whole, microseconds; UINT64_MAX: none is on its way. And: it
 * has, at that moment. */
uint64_t joined_due(const struct joined *joined);
void joined_arrive(struct joined *joined);

/* The cable; of a hundred frames, so many are damaged. */
void joined_pull(struct joined *joined, bool pulled);
void joined_noise(struct joined *joined, unsigned percent);

/* Is HALF of the board the main one? And: the other one starts again. */
bool joined_is_main(const struct joined *joined, unsigned half);
void joined_restart_other(struct joined *joined);

/* The port of HALF of the board. */
const struct uvk_port *joined_port(const struct joined *joined, unsigned half);

/* What is wrong between them, as the main half knows it. */
enum uvk_half_trouble joined_trouble(const struct joined *joined);

#endif
