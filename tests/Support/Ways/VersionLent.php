<?php

declare(strict_types=1);

namespace Geschenk\Tests\Support\Ways;

use Geschenk\Core\Phone\AccountAsked;
use Geschenk\Core\Phone\PhoneState;
use Geschenk\Core\Phone\Point;
use Geschenk\Core\Phone\Rule\AccountRule;
use Geschenk\Core\Phone\Rule\Status;
use Geschenk\Core\Phone\Situation;

/** The older version lies on the phone. */
final readonly class VersionLent implements AccountRule
{
    public static function isLent(PhoneState $phone, string $app): bool
    {
        return str_ends_with($phone->app($app)->version ?? '', '-lent');
    }

    public function judge(Situation $situation, AccountAsked $account): Point
    {
        $isLent = null === $situation->phone->apps ? null : self::isLent($situation->phone, $account->app);

        return new Point(
            'lent_version', Status::of($isLent), Point::TECHNICIAN, Point::BLOCKS, 'lent_version', [], $account->app,
        );
    }
}
