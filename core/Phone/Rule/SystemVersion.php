<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone\Rule;

use Geschenk\Core\Phone\Point;
use Geschenk\Core\Phone\Situation;
use Geschenk\Core\Platform;

/** The systems whose ways are known: older ones keep messengers' data elsewhere. */
final readonly class SystemVersion implements Rule
{
    private const OLDEST = [Platform::Android->value => '10', Platform::Ios->value => '15'];

    public function judge(Situation $situation): Point
    {
        $phone = $situation->phone;
        $oldest = self::OLDEST[$phone->platform->value];
        // What is no number can't be judged, and is no reason to send somebody away.
        $isKnown = 1 === preg_match('/^\d{1,3}(\.\d{1,3}){0,3}$/D', $phone->osVersion);
        $status = Status::of($isKnown ? version_compare($phone->osVersion, $oldest, '>=') : null);
        $params = ['version' => $phone->osVersion, 'least' => $oldest];

        return new Point(
            'system', $status, Point::OWNER, $isKnown ? Point::BLOCKS : Point::WARNS, 'system', $params,
        );
    }
}
