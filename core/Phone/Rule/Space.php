<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone\Rule;

use Geschenk\Core\Phone\Point;
use Geschenk\Core\Phone\Role;
use Geschenk\Core\Phone\Situation;

/** Room for what will be written to the phone that receives. Reading over the cable takes none on the other. */
final readonly class Space implements Rule
{
    public function judge(Situation $situation): ?Point
    {
        if (Role::Receives !== $situation->role) {
            return null;
        }
        $free = $situation->phone->free;
        if (null === $free) {
            return self::point(null, 'space_unseen');
        }
        if (null === $situation->job) {
            return self::point($free > 0, 'space_unknown', ['free_bytes' => $free]);
        }
        $needed = $situation->job->space();

        return self::point($free >= $needed, 'space', [
            'free_bytes' => $free, 'needed_bytes' => $needed, 'short_bytes' => max(0, $needed - $free),
        ]);
    }

    /** @param array<string, int> $params */
    private static function point(?bool $isEnough, string $variant, array $params = []): Point
    {
        return new Point('space', Status::of($isEnough), Point::TECHNICIAN, Point::BLOCKS, $variant, $params);
    }
}
