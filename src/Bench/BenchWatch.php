<?php

declare(strict_types=1);

namespace Geschenk\App\Bench;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\ParameterType;
use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Holding;
use Geschenk\App\Entity\Phone;
use Geschenk\App\Records;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\Phone\PhoneDirectory;
use Geschenk\Core\Phone\PhoneRefuses;
use Geschenk\Core\Phone\PhoneState;
use Geschenk\Core\Phone\PhoneUnplugged;
use Psr\Clock\ClockInterface;
use Psr\Log\LoggerInterface;
use Symfony\Component\Messenger\MessageBusInterface;

/**
 * Looks round the bench, again and again, and writes down what it sees: the state of each phone, and of one in an open
 * tray, whose owner consents, whether the files that hold its chats have changed. What is in them a worker of its own
 * looks at.
 */
final class BenchWatch
{
    /** Seconds between two writings of "seen now" of phones that stay as they are. */
    private const SEEN_EVERY = 5.0;
    /** Seconds after which a look is asked for again: one that was answered, and one that was not. */
    private const AFTER_ANSWER = 3.0;
    private const WITHOUT_ANSWER = 30.0;

    private float $saidSeen = 0.0;
    /** The records as they stood behind the last round; where they stand so still, only what is new is written. */
    private string $behind = '';
    /** @var list<string> serials of that round */
    private array $serials = [];
    /** @var array<string, string> what is written down of phones, by serial */
    private array $written = [];
    /** @var array<string, string> what is wrong with a phone that can't be looked at, by serial; said once */
    private array $troubles = [];
    /**
     * @var array<string, array{at: float, tries: int, mark: string|null}> looks that were asked for, by phone and app
     */
    private array $asked = [];

    public function __construct(
        private readonly PhoneDirectory $directory,
        private readonly Looks $looks,
        private readonly Phones $phones,
        private readonly Formats $formats,
        private readonly EntityManagerInterface $entities,
        private readonly Records $records,
        private readonly MessageBusInterface $bus,
        private readonly ClockInterface $clock,
        private readonly LoggerInterface $logger,
    ) {
    }

    public function round(): void
    {
        $this->entities->clear();
        $serials = $this->directory->serials();
        $held = $this->phones->traysOf($serials);
        $isAsItWas = $serials === $this->serials && $this->records->state() === $this->behind;
        if (!$isAsItWas) {
            $this->written = [];
        }
        // Until this round is at its end nothing counts as written.
        $this->behind = '';
        $this->phones->gather($isAsItWas ? array_keys($held) : $serials);
        foreach ($serials as $serial) {
            $state = $this->see($serial);
            if (null !== $state && isset($held[$serial])) {
                $this->lookInto($serial, $state);
            }
        }
        foreach ($isAsItWas ? [] : $this->phones->onBench() as $phone) {
            if (!in_array($phone->serial, $serials, true)) {
                $phone->miss();
            }
        }
        $this->entities->flush();
        // Measured by the machine's own time: the clock on the wall may be set back.
        $now = hrtime(true) / 1e9;
        if ($now - $this->saidSeen > self::SEEN_EVERY) {
            $this->saidSeen = $now;
            $this->entities->getConnection()->executeStatement(
                'UPDATE phone SET seen_at = ? WHERE on_bench = 1 AND serial IN (?)',
                [$this->clock->now()->format('Y-m-d H:i:s'), array_diff($serials, array_keys($this->troubles))],
                [ParameterType::STRING, ArrayParameterType::STRING],
            );
        }
        [$this->behind, $this->serials] = [$this->records->state(), $serials];
    }

    /** Its own state, which a phone tells whoever holds it. */
    private function see(string $serial): ?PhoneState
    {
        try {
            $state = $this->directory->link($serial)->state();
        } catch (PhoneUnplugged) {
            // It can't be told what it is: as if it lay somewhere else.
            $this->entities->find(Phone::class, $serial)?->miss();
            $this->entities->flush();
            unset($this->written[$serial]);

            return null;
        } catch (\Throwable $error) {
            // Nobody has seen it now: what is shown of it grows old, and says so.
            if ($error->getMessage() !== ($this->troubles[$serial] ?? null)) {
                $this->logger->error('A phone could not be looked at.', ['serial' => $serial, 'exception' => $error]);
            }
            $this->troubles[$serial] = $error->getMessage();

            return null;
        }
        unset($this->troubles[$serial]);
        $told = serialize($state);
        if ($told !== ($this->written[$serial] ?? null)) {
            $this->note($serial, $state);
            $this->written[$serial] = $told;
        }

        return $state;
    }

    /** Beyond that: whether the files of its messengers have changed; of phones in open trays alone. */
    private function lookInto(string $serial, PhoneState $state): void
    {
        foreach ($this->formats->apps() as $app) {
            if (null === $state->app($app->id)) {
                continue;
            }
            // One query a round has told that it is in a tray; a holding that is there says the same.
            $holding = $this->phones->holding($serial, $app->id) ?? $this->looks->begin($serial, $app->id);
            if (null === $holding) {
                continue;
            }
            try {
                $link = $this->directory->link($serial);
                if ($state->isOpen()) {
                    $glance = $this->looks->glance($link, $app->id);
                    $mark = Looks::mark($glance);
                    if ($mark !== $holding->mark()) {
                        $holding->seen($mark, $glance->chatBytes);
                    }
                } elseif (null !== $holding->mark()) {
                    $holding->seen(null, null);
                }
            } catch (PhoneUnplugged|PhoneRefuses) {
                $holding->seen(null, null);
            } catch (\Throwable $error) {
                $this->logger->error(
                    'A phone’s files could not be seen.', ['serial' => $serial, 'exception' => $error],
                );
            }
            if ($holding->isStale()) {
                $this->askForLook($holding);
            }
        }
        $this->entities->flush();
    }

    private function note(string $serial, PhoneState $state): void
    {
        $phone = $this->entities->find(Phone::class, $serial);
        $settings = $this->phones->settings($state);
        if (null === $phone) {
            $this->entities->persist(new Phone($serial, $state, $this->clock->now(), $settings));
        } else {
            $phone->see($state, $this->clock->now(), $settings);
        }
    }

    private function askForLook(Holding $holding): void
    {
        $name = $holding->serial.' '.$holding->app;
        $now = hrtime(true) / 1e9;
        $asked = $this->asked[$name] ?? null;
        if (null !== $asked) {
            $isAnswered = [$asked['tries'], $asked['mark']] !== [$holding->tries(), $holding->lookedAtMark()];
            if ($now - $asked['at'] < ($isAnswered ? self::AFTER_ANSWER : self::WITHOUT_ANSWER)) {
                return;
            }
        }
        $this->asked[$name] = ['at' => $now, 'tries' => $holding->tries(), 'mark' => $holding->lookedAtMark()];
        $this->entities->flush();
        $this->bus->dispatch(new LookAtPhone($holding->serial, $holding->app));
    }
}
