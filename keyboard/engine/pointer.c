/* pointer.c - keys that move the pointer, and the wheel while they are held.
 *
 * A key that goes down moves by one at once; then the speed grows from rest to its full
 * value. Distances are sums of thousandths: no division, which a small chip would pay for. */
#include "outputs.h"

#if UVK_USE_POINTER

#define THOUSAND 1000u
#define MOST_MS  100u /* a longer pause moves no further */

static bool has(uint8_t bits, uint8_t way)
{
    return (bits & uvk_bit(way)) != 0;
}

/* -1, 0 or 1 along an axis: LESS and MORE are two of enum uvk_wheel. */
static int8_t along(uint8_t bits, uint8_t less, uint8_t more)
{
    return (int8_t)(has(bits, more) - has(bits, less));
}

void uvk_pointer_add(struct uvk_ways *ways, uvk_action action)
{
    uint8_t bit = uvk_bit(uvk_action_what(action));

    switch (uvk_action_how(action)) {
    case UVK_DEVICE_POINT:
        ways->point |= bit;
        break;
    case UVK_DEVICE_WHEEL:
        ways->wheel |= bit;
        break;
    case UVK_DEVICE_PACE:
        ways->pace |= bit;
        break;
    default:
        break;
    }
}

/* The host that does not fetch loses movement, not keys. */
static UVK_ONE_COPY int8_t add_bounded(int8_t sum, int8_t more)
{
    int16_t both = (int16_t)(sum + more);

    return both > 127 || both < -127 ? sum : (int8_t)both;
}

static void point(struct uvk_reports *reports, uint8_t ways)
{
    int8_t x = along(ways, UVK_WHEEL_LEFT, UVK_WHEEL_RIGHT);
    int8_t y = along(ways, UVK_WHEEL_UP, UVK_WHEEL_DOWN);

    if (x != 0 || y != 0) {
        reports->x = add_bounded(reports->x, x);
        reports->y = add_bounded(reports->y, y);
        uvk_reports_mark(reports, UVK_REPORT_MOUSE);
    }
}

void uvk_pointer_write(const struct uvk_reports *reports, uint8_t out[2])
{
    out[0] = (uint8_t)reports->x;
    out[1] = (uint8_t)reports->y;
}

void uvk_pointer_sent(struct uvk_reports *reports)
{
    reports->x = 0;
    reports->y = 0;
}

void uvk_pointer_held(struct uvk_engine *engine, const struct uvk_ways *ways)
{
    struct uvk_pointer *pointer = UVK_NEAR(&engine->pointer);
    uint8_t fresh = (uint8_t)(ways->point & ~pointer->point);

    if (pointer->point == 0 && ways->point != 0) {
        pointer->speed = 0;
        pointer->ramp = 0;
        pointer->far = 0;
    }
    if (pointer->wheel == 0 && ways->wheel != 0) {
        pointer->turned = 0;
    }
    pointer->point = ways->point;
    pointer->wheel = ways->wheel;
    pointer->pace = ways->pace;
    point(&engine->reports, fresh);
}

/* Slow is a quarter, fast three times. */
static uint16_t paced(uint16_t speed, uint8_t pace)
{
    if (has(pace, UVK_PACE_SLOW)) {
        speed >>= 2;
    }
    return has(pace, UVK_PACE_FAST) ? (uint16_t)(speed * 3u) : speed;
}

/* One millisecond nearer to full speed: SPEED in RAMP milliseconds. */
static UVK_ONE_COPY void speed_up(struct uvk_pointer *pointer, uint16_t speed, uint16_t ramp)
{
    if (ramp == 0 || pointer->speed >= speed) {
        pointer->speed = speed;
        return;
    }
    pointer->ramp = (uint16_t)(pointer->ramp + speed);
    while (pointer->ramp >= ramp) {
        pointer->ramp = (uint16_t)(pointer->ramp - ramp);
        pointer->speed++;
    }
}

static void point_for_1ms(struct uvk_engine *engine)
{
    struct uvk_pointer *pointer = UVK_NEAR(&engine->pointer);

    speed_up(pointer, engine->settings[UVK_SET_POINTER_SPEED],
             engine->settings[UVK_SET_POINTER_RAMP]);
    pointer->far = (uint16_t)(pointer->far + paced(pointer->speed, pointer->pace));
    while (pointer->far >= THOUSAND) {
        pointer->far = (uint16_t)(pointer->far - THOUSAND);
        point(&engine->reports, pointer->point);
    }
}

static void turn_for_1ms(struct uvk_engine *engine)
{
    struct uvk_pointer *pointer = &engine->pointer;

    pointer->turned = (uint16_t)(pointer->turned +
                                 paced(engine->settings[UVK_SET_WHEEL_SPEED], pointer->pace));
    if (pointer->turned < THOUSAND) {
        return;
    }
    pointer->turned = (uint16_t)(pointer->turned - THOUSAND);
    for (uint8_t way = UVK_WHEEL_UP; way <= UVK_WHEEL_RIGHT; way++) {
        if (has(pointer->wheel, way)) {
            uvk_mouse_wheel(&engine->reports, (enum uvk_wheel)way);
        }
    }
}

void uvk_pointer_move(struct uvk_engine *engine)
{
    struct uvk_pointer *pointer = &engine->pointer;
    uint16_t elapsed = (uint16_t)(engine->now - pointer->at);

    pointer->at = engine->now;
    elapsed = elapsed > MOST_MS ? MOST_MS : elapsed;
    for (; elapsed > 0 && (pointer->point | pointer->wheel) != 0; elapsed--) {
        if (pointer->point != 0) {
            point_for_1ms(engine);
        }
        if (pointer->wheel != 0) {
            turn_for_1ms(engine);
        }
    }
}

#endif
