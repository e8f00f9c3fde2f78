<?php

declare(strict_types=1);

namespace Geschenk\Standin\Phone;

use Geschenk\Core\Messenger\BackupLock;
use Geschenk\Core\Platform;

/**
 * What the customer's hands can do with a stand-in phone. Each act is possible only where a real phone would offer it.
 *
 * @phpstan-import-type State from PhoneFolder
 * @phpstan-import-type App from PhoneFolder
 *
 * @phpstan-type Offer array{act: string, words: string, app: string|null}
 */
final class Hands
{
    /** The apps that can be installed, by id. */
    public const APPS = [
        'otterpost' => ['id' => 'otterpost', 'name' => 'Otterpost', 'version' => '7.4.1'],
        'otterpost.counter' => ['id' => 'otterpost.counter', 'name' => 'Otterpost Counter', 'version' => '7.4.0'],
    ];
    public const APP = self::APPS['otterpost'];
    private const SIGNING_UP = [
        'register', 'ask_text', 'ask_call', 'enter_code', 'enter_pin', 'go_on', 'leave_sign_up', 'pin_off',
        'decline_cloud', 'take_cloud',
    ];
    private const BACKUP_LOCKS = [
        'lock_backups_password' => BackupLock::Password, 'lock_backups_digits' => BackupLock::Digits,
        'leave_backups_open' => BackupLock::Open,
    ];
    /** Seconds, as a phone is sold. */
    private const LOCKS_AFTER = 30;

    /** @return list<Offer> what can be done now; "words" is what the button says, under "hands" in translations/ */
    public static function offered(PhoneFolder $phone): array
    {
        $s = $phone->state();
        $isAndroid = Platform::Android->value === $s['platform'];
        $acts = [$s['plugged'] ? 'unplug' : 'plug', $s['unlocked'] ? 'lock' : 'unlock'];
        if ($s['unlocked'] && $isAndroid) {
            $acts[] = match (true) {
                !$s['developer_options'] => 'tap_build_number',
                $s['debugging'] => 'debugging_off',
                default => 'debugging_on',
            };
        }
        if ($s['unlocked']) {
            $acts[] = 0 === ($s['lock_after'] ?? self::LOCKS_AFTER) ? 'lock_timer_short' : 'lock_timer_never';
            if (!$isAndroid) {
                $acts[] = $s['theft_lock'] ?? false ? 'theft_lock_off' : 'theft_lock_on';
            }
        }
        $acts[] = 'restart';
        if ($s['battery'] < 80) {
            $acts[] = 'charge';
        }
        if ($s['battery'] >= 10) {
            $acts[] = 'drain';
        }
        $acts[] = isset($s['storage_before']) ? 'tidy' : 'fill';
        $offered = array_map(static fn (string $act): array => ['act' => $act, 'words' => $act, 'app' => null], $acts);
        if (null !== self::question($s)) {
            $offered[] = ['act' => 'admit', 'words' => $isAndroid ? 'allow' : 'trust', 'app' => null];
        }
        $installed = array_column($s['apps'], 'name', 'id');
        foreach ($s['unlocked'] ? self::APPS : [] as $id => $app) {
            if (!isset($installed[$id])) {
                $offered[] = ['act' => 'install '.$id, 'words' => 'install', 'app' => $app['name']];
            }
        }
        $offered = [...$offered, ...self::offeredSim($phone, $s)];
        foreach ($s['unlocked'] ? $s['apps'] : [] as $app) {
            array_push($offered, ...SigningUp::offered($phone, $app, time()));
            array_push($offered, ...self::offeredToAnew($app, $isAndroid));
            $act = $app['auto_backup'] ?? false ? 'auto_backup_off' : 'auto_backup_on';
            $offered[] = ['act' => $act.' '.$app['id'], 'words' => $act, 'app' => $app['name']];
            array_push($offered, ...self::offeredOfBackups($phone, $app));
            if (IncomingMessage::canCome($phone, $app['id'])) {
                $offered[] = ['act' => 'message_comes '.$app['id'], 'words' => 'message_comes', 'app' => $app['name']];
            }
            if ($isAndroid && !($app['storage_allowed'] ?? true)) {
                $offered[] = ['act' => 'allow_storage '.$app['id'], 'words' => 'allow_storage', 'app' => $app['name']];
            }
        }

        return $offered;
    }

    /**
     * The card with the number, which is in one of a customer's phones or in none of them.
     *
     * @param State $s
     *
     * @return list<Offer>
     */
    private static function offeredSim(PhoneFolder $phone, array $s): array
    {
        if (null !== ($s['sim'] ?? null)) {
            return [['act' => 'sim_out', 'words' => 'sim_out', 'app' => $s['sim']]];
        }
        $offered = [];
        foreach (SigningUp::looseSims($phone) as $number) {
            $offered[] = ['act' => 'sim_in '.$number, 'words' => 'sim_in', 'app' => $number];
        }

        return $offered;
    }

    /**
     * The backups that a messenger makes of itself.
     *
     * @param App $app
     *
     * @return list<Offer>
     */
    private static function offeredOfBackups(PhoneFolder $phone, array $app): array
    {
        if (!LocalBackupsOnPhone::canMake($phone, $app['id'])) {
            return [];
        }
        $acts = ['back_up_now', 'back_up_without_videos', 'lock_backups_password', 'lock_backups_digits'];
        if (null !== ($app['backup_key'] ?? null)) {
            $acts[] = 'leave_backups_open';
        }

        return array_map(static fn (string $act): array => [
            'act' => $act.' '.$app['id'], 'words' => $act, 'app' => $app['name'],
        ], $acts);
    }

    /**
     * What a messenger asks for whose chats were put there.
     *
     * @param App $app
     *
     * @return list<Offer>
     */
    private static function offeredToAnew(array $app, bool $isAndroid): array
    {
        $acts = match (true) {
            !($app['opened'] ?? true) => ['open'],
            $isAndroid => ['allow_contacts' => $app['contacts_allowed'] ?? true],
            default => [
                'allow_contacts' => $app['contacts_allowed'] ?? true, 'allow_photos' => $app['photos_allowed'] ?? true,
            ],
        };
        $acts = array_is_list($acts) ? $acts : array_keys(array_filter($acts, static fn (bool $is): bool => !$is));

        return array_map(static fn (string $act): array => [
            'act' => $act.' '.$app['id'], 'words' => $act, 'app' => $app['name'],
        ], $acts);
    }

    /**
     * The question on the screen, which shows only when the screen is unlocked.
     *
     * @param State $s
     *
     * @return string|null under "hands" in translations/
     */
    public static function question(array $s): ?string
    {
        $isAndroid = Platform::Android->value === $s['platform'];
        if (!$s['plugged'] || $s['admitted'] || !$s['unlocked'] || ($isAndroid && !$s['debugging'])) {
            return null;
        }

        return $isAndroid ? 'question_allow' : 'question_trust';
    }

    /**
     * @param string      $act   as it was offered
     * @param string|null $typed for those of SigningUp::TYPED: an E.164 number, a code, a PIN
     *
     * @throws HandRefused when the phone does not offer this now
     */
    public static function do(PhoneFolder $phone, string $act, ?string $typed = null): void
    {
        if (!in_array($act, array_column(self::offered($phone), 'act'), true)) {
            throw HandRefused::notOffered();
        }
        [$hand, $id] = explode(' ', $act) + [1 => ''];
        if (in_array($hand, self::SIGNING_UP, true)) {
            SigningUp::do($phone, $hand, $id, $typed, time());

            return;
        }
        if ('install' === $hand) {
            EmptyMessenger::install($phone, $id);
        }
        if ('back_up_now' === $hand || 'back_up_without_videos' === $hand) {
            $s = $phone->state();
            if ($s['storage_total'] - $s['storage_other'] - $phone->used() < LocalBackupsOnPhone::bytes($phone, $id)) {
                throw HandRefused::noRoom();
            }
            LocalBackupsOnPhone::make($phone, $id, 'back_up_now' === $hand, time());
        }
        if ('message_comes' === $hand) {
            IncomingMessage::comes($phone, $id);
        }
        $used = $phone->used();
        $phone->change(static function (array $s) use ($hand, $id, $used): array {
            $change = match ($hand) {
                'plug' => ['plugged' => true],
                'unplug' => ['plugged' => false],
                'lock' => ['unlocked' => false],
                'unlock' => ['unlocked' => true],
                'tap_build_number' => ['developer_options' => true],
                'debugging_on' => ['debugging' => true],
                'debugging_off' => ['debugging' => false],
                'admit' => ['admitted' => true],
                'charge' => ['battery' => 100],
                'restart', 'drain' => Faults::after($s, $hand, $used),
                'fill' => ['storage_before' => $s['storage_other']] + Faults::after($s, $hand, $used),
                'tidy' => ['storage_other' => $s['storage_before'] ?? $s['storage_other'], 'storage_before' => null],
                'lock_timer_never' => ['lock_after' => 0],
                'lock_timer_short' => ['lock_after' => self::LOCKS_AFTER],
                'theft_lock_on' => ['theft_lock' => true],
                'theft_lock_off' => ['theft_lock' => false],
                'auto_backup_on' => self::ofApp($s, $id, ['auto_backup' => true]),
                'auto_backup_off' => self::ofApp($s, $id, ['auto_backup' => false]),
                'lock_backups_password', 'lock_backups_digits', 'leave_backups_open' => self::ofApp($s, $id, [
                    'backup_key' => LocalBackupsOnPhone::newKey(self::BACKUP_LOCKS[$hand]),
                ]),
                'allow_storage' => self::ofApp($s, $id, ['storage_allowed' => true]),
                'open' => self::ofApp($s, $id, ['opened' => true]),
                'allow_contacts' => self::ofApp($s, $id, ['contacts_allowed' => true]),
                'allow_photos' => self::ofApp($s, $id, ['photos_allowed' => true]),
                'install' => ['apps' => [...$s['apps'], [...(self::APPS[$id] ?? self::APP), 'number' => null]]],
                'sim_out' => ['sim' => null],
                'sim_in' => ['sim' => $id],
                default => [],
            };

            return $change + $s;
        });
    }

    /** @param float $megabytesPerSecond 0 is unlimited */
    public static function setCableSpeed(PhoneFolder $phone, float $megabytesPerSecond): void
    {
        $phone->change(static fn (array $s): array => ['cable_mb_s' => max(0.0, $megabytesPerSecond)] + $s);
    }

    /**
     * @param State                                                            $s
     * @param array{
     *     auto_backup?: bool, storage_allowed?: bool, opened?: bool, contacts_allowed?: bool,
     *     photos_allowed?: bool, backup_key?: string|null,
     * } $change
     *
     * @return array{apps: list<App>}
     */
    private static function ofApp(array $s, string $id, array $change): array
    {
        return ['apps' => array_map(
            static fn (array $app): array => ($app['id'] === $id ? $change : []) + $app, $s['apps'],
        )];
    }
}
