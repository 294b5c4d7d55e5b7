/* pointer.c - keys that move the pointer, and the wheel while they are held.
 *
 * A key that goes down moves by one at once; then the speed grows from rest to its full
 * value. Distances are sums of thousandths: no division, which a small chip would pay for. */
#include "parts.h"

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

void uvk_pointer_held(struct uvk_engine *engine, uint8_t point, uint8_t wheel, uint8_t pace)
{
    struct uvk_pointer *pointer = &engine->pointer;
    uint8_t fresh = (uint8_t)(point & ~pointer->point);

    if (pointer->point == 0 && point != 0) {
        pointer->speed = 0;
        pointer->ramp = 0;
        pointer->far = 0;
    }
    if (pointer->wheel == 0 && wheel != 0) {
        pointer->turned = 0;
    }
    pointer->point = point;
    pointer->wheel = wheel;
    pointer->pace = pace;
    if (fresh != 0) {
        uvk_reports_point(&engine->reports, along(fresh, UVK_WHEEL_LEFT, UVK_WHEEL_RIGHT),
                          along(fresh, UVK_WHEEL_UP, UVK_WHEEL_DOWN));
    }
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
static void speed_up(struct uvk_pointer *pointer, uint16_t speed, uint16_t ramp)
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
    struct uvk_pointer *pointer = &engine->pointer;

    speed_up(pointer, uvk_image_setting(&engine->image, UVK_SET_POINTER_SPEED),
             uvk_image_setting(&engine->image, UVK_SET_POINTER_RAMP));
    pointer->far = (uint16_t)(pointer->far + paced(pointer->speed, pointer->pace));
    while (pointer->far >= THOUSAND) {
        pointer->far = (uint16_t)(pointer->far - THOUSAND);
        uvk_reports_point(&engine->reports,
                          along(pointer->point, UVK_WHEEL_LEFT, UVK_WHEEL_RIGHT),
                          along(pointer->point, UVK_WHEEL_UP, UVK_WHEEL_DOWN));
    }
}

static void turn_for_1ms(struct uvk_engine *engine)
{
    struct uvk_pointer *pointer = &engine->pointer;

    pointer->turned = (uint16_t)(pointer->turned +
                                 paced(uvk_image_setting(&engine->image, UVK_SET_WHEEL_SPEED),
                                       pointer->pace));
    if (pointer->turned < THOUSAND) {
        return;
    }
    pointer->turned = (uint16_t)(pointer->turned - THOUSAND);
    for (uint8_t way = UVK_WHEEL_UP; way <= UVK_WHEEL_RIGHT; way++) {
        if (has(pointer->wheel, way)) {
            uvk_reports_wheel(&engine->reports, (enum uvk_wheel)way);
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
