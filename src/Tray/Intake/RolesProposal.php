<?php

declare(strict_types=1);

namespace Geschenk\App\Tray\Intake;

use Geschenk\App\Bench\Phones;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Entity\TrayPhone;
use Geschenk\Core\Phone\Role;

/**
 * Which of two phones gives, as what they hold says it, with the reasons: who has more chats, else the newer ones.
 *
 * @phpstan-import-type Side from SumOnPhone
 *
 * @phpstan-type Proposal array{gives: TrayPhone, agrees: bool, there: Side, other: Side, same_number: bool}
 */
final readonly class RolesProposal
{
    public function __construct(private Phones $phones, private SumOnPhone $held)
    {
    }

    /** @return Proposal|null null while they have not been looked into, or where nothing speaks for one of them */
    public function of(Tray $tray): ?array
    {
        if (null !== $tray->closedAt() || $tray->hasRestored() || !$tray->isBetweenPhones()) {
            return null;
        }
        $gives = $tray->phone(Role::Gives);
        $receives = $tray->phone(Role::Receives);
        [$given, $there] = [$this->held->on($gives), $this->held->on($receives)];
        if (null === $given || null === $there) {
            return null;
        }
        $order = [$given['messages'], $given['newest_at'] ?? 0] <=> [$there['messages'], $there['newest_at'] ?? 0];
        if (0 === $order) {
            return null;
        }

        return [
            'gives' => $order > 0 ? $gives : $receives, 'agrees' => $order > 0,
            'there' => $order > 0 ? $given : $there, 'other' => $order > 0 ? $there : $given,
            'same_number' => [] !== array_intersect($this->numbers($gives), $this->numbers($receives)),
        ];
    }

    /** @return list<string> E.164 */
    private function numbers(TrayPhone $phone): array
    {
        $numbers = [];
        foreach ($this->phones->state($phone->serial)->apps ?? [] as $app) {
            $numbers[] = $app->number;
        }

        return array_values(array_filter($numbers, static fn (?string $number): bool => null !== $number));
    }
}
