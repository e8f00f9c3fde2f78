<?php

declare(strict_types=1);

namespace Geschenk\App\Demo;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Bench\BenchWatch;
use Geschenk\App\Entity\ClockSeen;
use Geschenk\App\Entity\Pace;
use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\RunState;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Entity\User;
use Geschenk\App\Runs\MoveAt;
use Geschenk\App\Tray\Intake\Intake;
use Geschenk\App\Tray\Intake\Opening;
use Geschenk\App\Work\Backup\BackupKind;
use Geschenk\App\Work\Conversion\ConversionKind;
use Geschenk\App\Work\RunDesk;
use Geschenk\App\Work\RunHandler;
use Geschenk\App\Work\WorkOnRun;
use Symfony\Component\PasswordHasher\Hasher\UserPasswordHasherInterface;

/**
 * The demonstration's shop: its users, and trays that are under way. What they show was really done, by the same
 * hands that work for a technician.
 */
final readonly class DemoShop
{
    /** Log-ins of the demonstration; a real shop makes its own users. */
    public const USERS = [
        'jette' => ['Jette Holm', User::TECHNICIAN, 'ribbon-and-tag'],
        'orla' => ['Orla Quist', User::MANAGER, 'wrapped-paper'],
    ];

    public function __construct(
        private EntityManagerInterface $entities,
        private UserPasswordHasherInterface $hasher,
        private Intake $intake,
        private RunDesk $runs,
        private RunHandler $handler,
        private BenchWatch $watch,
    ) {
    }

    /** All records go, but what the computer has measured of itself and of its clock. */
    public function clear(): void
    {
        $connection = $this->entities->getConnection();
        $connection->transactional(function () use ($connection): void {
            // They point at each other, some in circles.
            $connection->executeStatement('PRAGMA defer_foreign_keys = ON');
            foreach ($this->entities->getMetadataFactory()->getAllMetadata() as $record) {
                $isOfComputer = in_array($record->getName(), [Pace::class, ClockSeen::class], true);
                if (!$isOfComputer && !$record->isEmbeddedClass) {
                    $this->entities->createQuery('DELETE FROM '.$record->getName().' x')->execute();
                }
            }
        });
        foreach (['messenger_messages', 'guess'] as $table) {
            $connection->executeStatement("DELETE FROM $table");
        }
        // The log of a new demonstration begins at its first entry.
        $connection->executeStatement("DELETE FROM sqlite_sequence WHERE name = 'log_entry'");
        $this->entities->clear();
    }

    /** @param callable(string): void $say */
    public function open(callable $say): void
    {
        $this->users();
        $this->watch->round();
        $say('Tray 41: the baker’s phones, not ready yet');
        $this->intake->open(
            new Opening('Ines Carvalhal', '+44 7700 900358', 'KFM3055821', 'LSM1130052', 'de'), 'jette',
        );
        $say('Tray 42: the conductor’s backup and conversion; the new phone holds a week of chats');
        $conductor = $this->intake->open(
            new Opening('Yusuke Amari', '+44 7700 900466', 'BRG0114460', 'LSL2261544', 'en'), 'orla',
        );
        $this->do($conductor, BackupKind::name(), 'orla');
        $this->do($conductor, ConversionKind::name(), 'orla');
        $say('Tray 43: the skipper’s backup and conversion, ready to be restored');
        $skipper = $this->intake->open(
            new Opening('Ragnvald Tveit', '+44 7700 900217, pier 3', 'BRG0090233', 'LSL2260907', 'en'), 'jette',
        );
        $this->do($skipper, BackupKind::name(), 'jette');
        $this->do($skipper, ConversionKind::name(), 'jette');
    }

    public function users(): void
    {
        foreach (self::USERS as $name => [$displayName, $role, $password]) {
            $user = new User($name, $displayName, $role);
            $user->setPassword($this->hasher->hashPassword($user, $password));
            $this->entities->persist($user);
        }
        $this->entities->flush();
    }

    private function do(Tray $tray, string $kind, string $by): void
    {
        $run = $this->runs->ask(new MoveAt($tray->number, 1), $kind, $by);
        ($this->handler)(new WorkOnRun($run->id));
        $done = $this->entities->find(Run::class, $run->id);
        if (RunState::Done !== $done?->state()) {
            throw new \RuntimeException(sprintf('The demonstration could not be made: %s', $done?->trouble() ?? ''));
        }
    }
}
