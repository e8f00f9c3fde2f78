<?php

declare(strict_types=1);

namespace Geschenk\App\Tray\Intake;

use Geschenk\App\Bench\Phones;
use Geschenk\App\Entity\TrayPhone;

/**
 * What all accounts on a phone hold together, as a worker looked at them.
 *
 * @phpstan-type Side array{messages: int, newest_at: int|null}
 */
final readonly class SumOnPhone
{
    public function __construct(private Phones $phones, private Accounts $accounts)
    {
    }

    /** @return Side|null null while nobody knows, or where there is no account; times in ms since 1970 UTC */
    public function on(TrayPhone $phone): ?array
    {
        $held = null;
        foreach (array_keys($this->accounts->onPhone($phone->serial) ?? []) as $app) {
            $counts = $this->phones->holding($phone->serial, $app)?->counts();
            if (null === $counts) {
                return null;
            }
            $held ??= ['messages' => 0, 'newest_at' => null];
            $held['messages'] += $counts['messages'];
            if (null !== $counts['newest_at']) {
                $held['newest_at'] = max($held['newest_at'] ?? 0, $counts['newest_at']);
            }
        }

        return $held;
    }
}
