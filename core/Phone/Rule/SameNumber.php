<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone\Rule;

use Geschenk\Core\Phone\AccountAsked;
use Geschenk\Core\Phone\Point;
use Geschenk\Core\Phone\Role;
use Geschenk\Core\Phone\Situation;

/** Both phones have the messenger registered with one number: what is restored belongs to it. */
final readonly class SameNumber implements AccountRule
{
    public function judge(Situation $situation, AccountAsked $account): Point
    {
        $app = $situation->phone->app($account->app);
        $own = $app?->number;
        $params = ['name' => $account->name, 'own_number' => $own ?? '', 'other_number' => $account->number ?? ''];
        $isReceiving = Role::Receives === $situation->role;
        if ($isReceiving && null !== $app && null === $own && null !== $account->number && !$account->isForRestore) {
            // Registering it signs the giving phone out: better once its backup is there.
            return new Point(
                'number', Point::TO_DO, Point::OWNER, Point::WARNS, 'number_later', $params, $account->app,
            );
        }
        if ($isReceiving && null !== $app?->signUp && $account->isForRestore) {
            return new Point(
                'number', Point::TO_DO, Point::OWNER, Point::BLOCKS, 'number_under_way', $params, $account->app,
            );
        }
        [$isSame, $variant] = match (true) {
            null === $app => [null, 'number_unseen'],
            null === $own && !$isReceiving && true === $app->signedOut => [true, 'number_signed_out'],
            null === $own => [false, null === $account->number ? 'number_none' : 'number_none_known'],
            null === $account->number => [$isReceiving ? null : true, 'number'],
            default => [$own === $account->number, 'number'],
        };

        return new Point(
            'number', Status::of($isSame), Point::OWNER, Point::BLOCKS, $variant, $params, $account->app,
        );
    }
}
