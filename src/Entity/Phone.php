<?php

declare(strict_types=1);

namespace Geschenk\App\Entity;

use Doctrine\ORM\Mapping as ORM;
use Geschenk\Core\Phone\AppState;
use Geschenk\Core\Phone\PhoneSettings;
use Geschenk\Core\Phone\PhoneState;
use Geschenk\Core\Phone\SignUp;
use Geschenk\Core\Platform;

/**
 * A phone as last seen. The watch writes it, pages read it: no page reads a phone.
 *
 * @phpstan-type Seen array{
 *     maker: string, model: string, platform: string, os_version: string, plugged: bool, unlocked: bool,
 *     battery: int|null, debugging: bool|null, admitted: bool, free: int|null,
 *     apps: list<array{
 *         id: string, name: string, version: string, number: string|null, auto_backup?: bool|null,
 *         storage_allowed?: bool|null, opened?: bool|null, contacts_allowed?: bool|null,
 *         photos_allowed?: bool|null, signed_out?: bool|null, offers_cloud?: bool|null,
 *         sign_up?: array{
 *             number: string, wants: string, texts_left: int, calls_left: int, next_ask_at: int|null,
 *         }|null,
 *     }>|null,
 *     started_at?: int|null, charging?: bool|null,
 *     settings?: array{lock_after: int|null, managed: bool|null, theft_lock: bool|null},
 * }
 */
#[ORM\Entity]
class Phone
{
    /** Seconds: a cable that was touched is no visit. */
    private const AWAY = 3_600;

    /** @var Seen */
    #[ORM\Column(type: 'json')]
    private array $seen;

    /**
     * @var array<string, int> what was set on it when it came, as it first showed that: by code and app of
     *                         Core\Phone\Switchable
     */
    #[ORM\Column(type: 'json')]
    private array $cameWith = [];

    /** Whether the bench knows it; a phone that was taken away keeps what was seen last. */
    #[ORM\Column]
    private bool $onBench = true;

    #[ORM\Column]
    private \DateTimeImmutable $seenAt;

    /** @param list<array{code: string, app: string, value: int}> $settings that are switched for a job */
    public function __construct(
        #[ORM\Id, ORM\Column(length: 40)] public readonly string $serial,
        PhoneState $state,
        \DateTimeImmutable $at,
        array $settings,
    ) {
        $this->seen = self::toArray($state);
        $this->seenAt = $at;
        $this->noteWhatItCameWith($settings);
    }

    /**
     * What is as it was is not written again.
     *
     * @param list<array{code: string, app: string, value: int}> $settings that are switched for a job
     */
    public function see(PhoneState $state, \DateTimeImmutable $at, array $settings): void
    {
        $seen = self::toArray($state);
        if ($seen !== $this->seen || !$this->onBench) {
            if (!$this->onBench && $at->getTimestamp() - $this->seenAt->getTimestamp() > self::AWAY) {
                $this->startAnew();
            }
            $this->seen = $seen;
            $this->seenAt = $at;
            $this->onBench = true;
            $this->noteWhatItCameWith($settings);
        }
    }

    /** @return int|null null of what it has not shown yet */
    public function cameWith(string $code, string $app): ?int
    {
        return $this->cameWith[$code.' '.$app] ?? null;
    }

    /** A job is over, or it was away for long: what it has then is its owner's. */
    public function startAnew(): void
    {
        $this->cameWith = [];
    }

    /** @param list<array{code: string, app: string, value: int}> $settings */
    private function noteWhatItCameWith(array $settings): void
    {
        foreach ($settings as ['code' => $code, 'app' => $app, 'value' => $value]) {
            $this->cameWith += [$code.' '.$app => $value];
        }
    }

    public function miss(): void
    {
        $this->onBench = false;
    }

    public function isOnBench(): bool
    {
        return $this->onBench;
    }

    public function seenAt(): \DateTimeImmutable
    {
        return $this->seenAt;
    }

    public function state(): PhoneState
    {
        $s = $this->seen;
        $apps = null === $s['apps'] ? null : array_map(
            static fn (array $a): AppState => new AppState(
                $a['id'], $a['name'], $a['version'], $a['number'], $a['auto_backup'] ?? null,
                $a['storage_allowed'] ?? null, $a['opened'] ?? null, $a['contacts_allowed'] ?? null,
                $a['photos_allowed'] ?? null, self::signUp($a['sign_up'] ?? null), $a['signed_out'] ?? null,
                $a['offers_cloud'] ?? null,
            ),
            $s['apps'],
        );

        return new PhoneState(
            $this->serial, $s['maker'], $s['model'], Platform::from($s['platform']), $s['os_version'], $s['plugged'],
            $s['unlocked'], $s['battery'], $s['debugging'], $s['admitted'], $s['free'], $apps,
            new PhoneSettings(
                $s['settings']['lock_after'] ?? null, $s['settings']['managed'] ?? null,
                $s['settings']['theft_lock'] ?? null,
            ),
            $s['charging'] ?? null, isset($s['started_at']) ? max(0, time() - $s['started_at']) : null,
        );
    }

    /**
     * @param array{
     *     number: string, wants: string, texts_left: int, calls_left: int, next_ask_at: int|null,
     * }|null $s
     */
    private static function signUp(?array $s): ?SignUp
    {
        return null === $s ? null : new SignUp(
            $s['number'], SignUp::WANTS[$s['wants']] ?? SignUp::WANTS_WAY, $s['texts_left'], $s['calls_left'],
            $s['next_ask_at'],
        );
    }

    /** @return Seen */
    private static function toArray(PhoneState $state): array
    {
        $text = static fn (string $told): string => mb_substr(mb_scrub($told), 0, 200);

        return [
            'maker' => $text($state->maker), 'model' => $text($state->model), 'platform' => $state->platform->value,
            'os_version' => $text($state->osVersion), 'plugged' => $state->plugged, 'unlocked' => $state->unlocked,
            'battery' => $state->battery, 'debugging' => $state->debugging, 'admitted' => $state->admitted,
            'free' => $state->free,
            'apps' => null === $state->apps ? null : array_map(static fn (AppState $app): array => [
                'id' => $text($app->id), 'name' => $text($app->name), 'version' => $text($app->version),
                'number' => null === $app->number ? null : $text($app->number),
                'auto_backup' => $app->autoBackup, 'storage_allowed' => $app->storageAllowed,
                'opened' => $app->opened, 'contacts_allowed' => $app->contactsAllowed,
                'photos_allowed' => $app->photosAllowed, 'signed_out' => $app->signedOut,
                'offers_cloud' => $app->offersCloud,
                'sign_up' => null === $app->signUp ? null : [
                    'number' => $text($app->signUp->number), 'wants' => $app->signUp->wants,
                    'texts_left' => $app->signUp->textsLeft, 'calls_left' => $app->signUp->callsLeft,
                    'next_ask_at' => $app->signUp->nextAskAt,
                ],
            ], $state->apps),
            'charging' => $state->charging,
            // Rounded, so that it is the same at every look.
            'started_at' => null === $state->upFor ? null : (int) (10 * round((time() - $state->upFor) / 10)),
            'settings' => [
                'lock_after' => $state->settings->lockAfter, 'managed' => $state->settings->managed,
                'theft_lock' => $state->settings->theftLock,
            ],
        ];
    }
}
