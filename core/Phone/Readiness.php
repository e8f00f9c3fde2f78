<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone;

/** Whether a phone is fit for the work, point by point: each is a rule of its own in Rule/. */
final class Readiness
{
    /**
     * What holds for the phone as a whole.
     *
     * @param PhoneState|null $phone null when it is not at the bench
     * @param Demand|null        $job   what is asked of it; null while nobody knows
     *
     * @return list<Point>
     */
    public static function ofPhone(?PhoneState $phone, Role $role, ?Demand $job): array
    {
        if (null === $phone) {
            return [new Point('bench', Point::TO_DO, Point::TECHNICIAN, Point::BLOCKS, 'bench')];
        }
        $situation = new Situation($phone, $role, $job);
        $points = [(new Rule\Cable())->judge($situation)];
        foreach (self::rules() as $rule) {
            $points[] = $rule->judge($situation);
        }

        return array_values(array_filter($points));
    }

    /**
     * What holds for one messenger on the phone.
     *
     * @param list<Rule\AccountRule> $steps what the way in needs beyond that, by which its chats are taken
     *
     * @return list<Point>
     */
    public static function ofAccount(?PhoneState $phone, Role $role, AccountAsked $account, array $steps = []): array
    {
        if (null === $phone) {
            return [];
        }
        $situation = new Situation($phone, $role, null);
        $points = [];
        foreach ([...self::accountRules(), ...$steps] as $rule) {
            $points[] = $rule->judge($situation, $account);
        }

        return array_values(array_filter($points));
    }

    /** @param list<Point> $points */
    public static function allReady(array $points): bool
    {
        return [] === array_filter($points, static fn (Point $point): bool => $point->isHindrance());
    }

    /** @return list<Rule\Rule> in the order in which they are met: what one needs to be seen comes before it */
    private static function rules(): array
    {
        return [
            new Rule\SystemVersion(), new Rule\ScreenUnlocked(), new Rule\UsbDebugging(), new Rule\ComputerAllowed(),
            new Rule\NotManaged(), new Rule\TheftLockOff(), new Rule\LockTimer(), new Rule\Battery(), new Rule\Space(),
        ];
    }

    /** @return list<Rule\AccountRule> */
    private static function accountRules(): array
    {
        return [
            new Rule\MessengerInstalled(), new Rule\SameNumber(), new Rule\CloudDeclined(), new Rule\StorageAllowed(),
            new Rule\AutoBackupOff(),
        ];
    }
}
