<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone\Rule;

use Geschenk\Core\Phone\AccountAsked;
use Geschenk\Core\Phone\Point;
use Geschenk\Core\Phone\Situation;

/** The messenger itself is on the phone. */
final readonly class MessengerInstalled implements AccountRule
{
    public function judge(Situation $situation, AccountAsked $account): Point
    {
        $app = $situation->phone->app($account->app);
        $isThere = null === $situation->phone->apps ? null : null !== $app;
        $variant = null === $app ? 'messenger_unseen' : 'messenger';
        $params = ['name' => $app->name ?? $account->name, 'version' => $app->version ?? ''];

        return new Point(
            'messenger', Status::of($isThere), Point::OWNER, Point::BLOCKS, $variant, $params, $account->app,
        );
    }
}
