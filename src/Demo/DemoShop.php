<?php

declare(strict_types=1);

namespace Geschenk\App\Demo;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\LogEntry;
use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\Step;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Entity\TrayPhone;
use Geschenk\App\Entity\User;
use Geschenk\App\Tray\Intake;
use Geschenk\App\Tray\RunDesk;
use Geschenk\App\Work\RunHandler;
use Geschenk\App\Work\RunKind;
use Geschenk\App\Work\RunState;
use Geschenk\App\Work\WorkOnRun;
use Symfony\Component\PasswordHasher\Hasher\UserPasswordHasherInterface;

/**
 * The demonstration's shop: its users, and trays that are under way. What they show was really done, by the same
 * hands that work for a technician.
 */
final readonly class DemoShop
{
    /** Log-ins of the demonstration; a real shop makes its own users. */
    public const USERS = ['jette' => ['Jette Holm', User::TECHNICIAN, 'ribbon-and-tag'], 'orla' => ['Orla Quist', User::MANAGER, 'wrapped-paper']];

    public function __construct(private EntityManagerInterface $entities, private UserPasswordHasherInterface $hasher, private Intake $intake, private RunDesk $runs, private RunHandler $handler)
    {
    }

    public function clear(): void
    {
        foreach ([LogEntry::class, Run::class, Backup::class, Step::class, TrayPhone::class, Tray::class, User::class] as $entity) {
            $this->entities->createQuery('DELETE FROM '.$entity.' x')->execute();
        }
        $this->entities->getConnection()->executeStatement('DELETE FROM messenger_messages');
        $this->entities->clear();
    }

    /** @param callable(string): void $say */
    public function open(callable $say): void
    {
        $this->users();
        $say('Tray 41: the baker’s phones, not ready yet');
        $this->intake->open('Ines Carvalhal', '+44 7700 900358', 'KFM3055821', 'LSM1130052', 'jette');
        $say('Tray 42: the conductor’s backup and conversion; the new phone holds a week of chats');
        $conductor = $this->intake->open('Yusuke Amari', '+44 7700 900466', 'BRG0114460', 'LSL2261544', 'orla');
        $this->do($conductor, RunKind::Backup, 'orla');
        $this->do($conductor, RunKind::Conversion, 'orla');
        $say('Tray 43: the skipper’s backup and conversion, ready to be restored');
        $skipper = $this->intake->open('Ragnvald Tveit', '+44 7700 900217, pier 3', 'BRG0090233', 'LSL2260907', 'jette');
        $this->do($skipper, RunKind::Backup, 'jette');
        $this->do($skipper, RunKind::Conversion, 'jette');
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

    private function do(Tray $tray, RunKind $kind, string $by): void
    {
        $tray = $this->entities->getRepository(Tray::class)->findOneBy(['number' => $tray->number]) ?? throw new \LogicException('The tray is gone.');
        $run = $this->runs->ask($tray, $kind, $by);
        ($this->handler)(new WorkOnRun($run->id));
        $done = $this->entities->find(Run::class, $run->id);
        if (RunState::Done !== $done?->state()) {
            throw new \RuntimeException(sprintf('The demonstration could not be made: %s', $done?->trouble() ?? ''));
        }
    }
}
